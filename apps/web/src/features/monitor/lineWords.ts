import { portName } from '@idle-step/core/routing';
import { readFunction, shownText, type Device } from '@idle-step/core/gear';
import { describeMessage, describeSequence, encode, hex, standardName } from '@idle-step/core/midi';
import type { LogLine, MessageLine } from '../../live/log/logLine';
import { there } from '@idle-step/core/sure';

/** A line of the monitor in words. */
export type LineWords = {
  readonly device: Device | null;
  readonly port: string;
  /** Hexadecimal pairs, empty where there are none. */
  readonly raw: string;
  /** Example: `Ch 3 CC 22 = 2`. */
  readonly says: string;
  /** Example: `Kelpline · Snapshot 3 Full`. */
  readonly means: string;
  /** What a report should have said, where it says something else; empty where it agrees or nothing was told. */
  readonly expected: string;
  readonly agrees: boolean | null;
  /** How much later than it was due it left, where that is more than a little; empty else. */
  readonly late: string;
  /** Why it went nowhere; empty where a port or a stand-in took it. */
  readonly untaken: string;
  readonly searched: string;
};

export function wordsOf(line: LogLine): LineWords {
  if (line.kind === 'note') return plain('', line.sentence);
  const port = portName(line.rig, line.portId);
  if (line.kind === 'ahead')
    return plain(
      port,
      `${port} stamps its messages ${aheadText(line.aheadMs)} ahead of this computer's clock; they count as now.`,
    );
  if (line.kind === 'port') return plain(port, `${line.name} is there again, bound to ${port}.`);
  if (line.kind === 'fault') {
    const words = plain(port, `${line.fault.code.replaceAll('-', ' ')}, skipped`);
    const raw = hex(line.fault.bytes);
    return { ...words, raw, searched: `${words.searched} ${raw}` };
  }
  const raw = hex(encode(line.message));
  const says = describeMessage(line.message, line.rig.middleC);
  const about = aboutMessage(line);
  const means =
    about.text || (line.sequence ? describeSequence(line.sequence) : '') || standardName(line.message) || '';
  const late = line.lateMs !== null && line.lateMs >= SAID_LATE_MS ? lateText(line.lateMs) : '';
  const untaken = line.taken ? '' : 'not sent: no port took it';
  return {
    device: line.device,
    port,
    raw,
    says,
    means,
    expected: about.expected,
    agrees: about.agrees,
    late,
    untaken,
    searched: [line.device?.name, port, raw, says, means, late, untaken].join(' '),
  };
}

/** Less is said in the hint of a line and in its CSV only, in ms. */
const SAID_LATE_MS = 5;

export const lateText = (ms: number): string => `${ms.toFixed(1)} ms late`;

const aheadText = (ms: number): string =>
  ms < 1000 ? `${Math.round(ms)} ms` : `${(ms / 1000).toFixed(1)} s`;

const plain = (port: string, says: string): LineWords => ({
  device: null,
  port,
  raw: '',
  says,
  means: '',
  expected: '',
  agrees: null,
  late: '',
  untaken: '',
  searched: `${port} ${says}`,
});

type About = { text: string; expected: string; agrees: boolean | null };

/** The function that a message drives or reports, or the control that it comes from. */
function aboutMessage({ device, fn, controlName, message, sequence, expected }: MessageLine): About {
  if (!device || !fn) {
    const text = device && controlName ? `${device.name} · ${controlName}` : '';
    return { text, expected: '', agrees: null };
  }
  const value = readFunction(device, fn, message, sequence);
  const shown = value === null || fn.shape.kind === 'trigger' ? '' : ` ${shownText(device, fn, value)}`;
  const agrees = expected === null || value === null ? null : expected === value;
  return {
    text: `${device.name} · ${fn.name}${shown}`,
    expected: agrees === false ? `expected ${shownText(device, fn, there(expected))}` : '',
    agrees,
  };
}
