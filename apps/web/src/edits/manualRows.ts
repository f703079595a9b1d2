import { keepsNumber, type ChartTemplate, type Device } from '@idle-step/core/gear';
import { CHART_ROWS, readManual, type ManualLine } from '@idle-step/core/formats';
import type { MiddleC } from '@idle-step/core/midi';
import { rowErrors } from '../words/chartWords';
import { addRows, freeRowName } from './chartEdits';
import { nth } from '@idle-step/core/sure';

/** A line of a manual with the row that it would become. */
export type LookedAt = ManualLine & { readonly made: ChartTemplate | null };

export type ManualLook = {
  readonly lines: readonly LookedAt[];
  /** What would be added, in order. */
  readonly rows: readonly ChartTemplate[];
  /** The lines that say something and cannot be taken: they stay in the field. */
  readonly left: string;
};

/** What a manual's text would add to the chart of a device: names that are taken are numbered, rows that break a rule left out. */
export function lookAtManual(device: Device, text: string, middleC: MiddleC): ManualLook {
  const { rows, lines } = readManual(text, { middleC, programsShownFrom: device.programsShownFrom });
  let chart = device.chart;
  const checked = rows.map((row) => {
    const named = { ...row, name: freeRowName(chart, row.name) };
    const added = { ...named, id: '00000000-0000-4000-8000-000000000000' };
    const [error] = rowErrors({ ...device, chart }, added);
    if (error) return { made: null, sentences: [error.sentence] };
    if (chart.length >= CHART_ROWS)
      return { made: null, sentences: [`${device.name} has ${CHART_ROWS} rows; a chart holds no more.`] };
    chart = [...chart, { ...added, id: `${chart.length}` }];
    return { made: named, sentences: wordsOf(device, row, named) };
  });
  const looked = lines.map((line): LookedAt => {
    const row = line.row === null ? null : nth(checked, line.row);
    if (!row) return { ...line, made: null };
    if (!row.made) return { ...line, kind: 'refused', made: null, sentences: row.sentences };
    return {
      ...line,
      made: row.made,
      sentences: line.kind === 'row' ? [...line.sentences, ...row.sentences] : line.sentences,
    };
  });
  return {
    lines: looked,
    rows: checked.flatMap((row) => row.made ?? []),
    left: looked
      .filter((l) => l.kind === 'refused')
      .map((l) => l.text)
      .join('\n'),
  };
}

/** What is to be known of a row before it is taken. */
function wordsOf(device: Device, row: ChartTemplate, named: ChartTemplate): string[] {
  const words: string[] = [];
  if (named.name !== row.name)
    words.push(`${device.name} has a ${row.name} already, so this one is called ${named.name}.`);
  if (row.drive.kind === 'controller' && keepsNumber(device, row.drive.controller))
    words.push(`${device.name} keeps CC ${row.drive.controller} for its own hardware.`);
  return words;
}

/** The chart with what was looked at in it. */
export const takeManual = (device: Device, look: ManualLook): ReturnType<typeof addRows> =>
  addRows(device, look.rows);
