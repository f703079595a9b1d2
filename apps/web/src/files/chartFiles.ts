import type { Device, ChartTemplate } from '@idle-step/core/gear';
import {
  chartOfMidnam,
  midnamOfChart,
  readChartCsv,
  readMidnam,
  writeChartCsv,
  writeMidnam,
  type FileFault,
} from '@idle-step/core/formats';
import type { MiddleC } from '@idle-step/core/midi';
import { withShortQuotes } from './faultsText';
import { readTextFile } from './readTextFile';
import { addRows } from '../edits/chartEdits';

export type LoadedChart =
  { readonly chart: Device['chart']; readonly count: number } | { readonly faults: readonly FileFault[] };

/** Rows of a CSV or MIDNAM file added to a chart, or why none of it was. Which it is, is seen from its first sign. */
export async function loadChartFile(
  file: Pick<File, 'name' | 'size' | 'arrayBuffer'>,
  device: Device,
  middleC: MiddleC,
): Promise<LoadedChart> {
  const read = await readTextFile(file);
  if (read.error !== undefined) return { faults: [{ line: null, sentence: read.error }] };
  const rows = rowsOf(read.text, middleC);
  return 'faults' in rows ? { faults: rows.faults.map(withShortQuotes) } : addRows(device, rows.rows);
}

function rowsOf(
  text: string,
  middleC: MiddleC,
): { readonly rows: readonly ChartTemplate[] } | { readonly faults: readonly FileFault[] } {
  if (/^\uFEFF?\s*</.test(text)) {
    const midnam = readMidnam(text);
    return midnam.ok ? { rows: chartOfMidnam(midnam.value) } : { faults: [midnam.error] };
  }
  const csv = readChartCsv(text, middleC);
  return csv.ok ? { rows: csv.value } : { faults: csv.error };
}

export const chartAsCsv = (device: Device): string => writeChartCsv(device.chart);

export const chartAsMidnam = (device: Device): string =>
  writeMidnam(
    midnamOfChart(device.chart, {
      manufacturer: device.description || device.name,
      model: device.name,
      programsShownFrom: device.programsShownFrom,
      programPattern: device.programPattern,
    }),
  );
