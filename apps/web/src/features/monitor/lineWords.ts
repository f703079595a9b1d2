import { portName } from '@idle-step/core/routing';
import { messageKey, type World } from '@idle-step/core/engine';
import { readFunction, shownText, type Device } from '@idle-step/core/gear';
import { describeMessage, describeSequence, encode, hex, standardName } from '@idle-step/core/midi';
import type { LogLine } from '../../live/monitorLog';
import { noteSentence } from '@idle-step/core/proof';

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
  /** Why it went nowhere; empty where a port or a stand-in took it. */
  readonly untaken: string;
  readonly searched: string;
};

type MessageLine = Extract<LogLine, { kind: 'in' | 'out' }>;

export function wordsOf(line: LogLine, world: World): LineWords {
  if (line.kind === 'note') return plain(null, '', noteSentence(line.note, world));
  if (line.kind === 'endless') return plain(null, '', `${line.sentence} It was dropped; playing goes on.`);
  const port = portName(world.show.rig, line.portId);
  if (line.kind === 'ahead')
    return plain(
      null,
      port,
      `${port} stamps its messages ${aheadText(line.aheadMs)} ahead of this computer's clock; they count as now.`,
    );
  if (line.kind === 'port') return plain(null, port, `${line.name} is there again, bound to ${port}.`);
  if (line.kind === 'fault') {
    const words = plain(null, port, `${line.fault.code.replaceAll('-', ' ')}, skipped`);
    const raw = hex(line.fault.bytes);
    return { ...words, raw, searched: `${words.searched} ${raw}` };
  }
  const raw = hex(encode(line.message));
  const says = describeMessage(line.message, world.show.rig.middleC);
  const about = aboutMessage(line, world);
  const means =
    about.text || (line.sequence ? describeSequence(line.sequence) : '') || standardName(line.message) || '';
  const untaken = line.taken ? '' : 'not sent: no port took it';
  return {
    device: about.device,
    port,
    raw,
    says,
    means,
    expected: about.expected,
    agrees: about.agrees,
    untaken,
    searched: [about.device?.name, port, raw, says, means, untaken].join(' '),
  };
}

const aheadText = (ms: number): string =>
  ms < 1000 ? `${Math.round(ms)} ms` : `${(ms / 1000).toFixed(1)} s`;

const plain = (device: Device | null, port: string, says: string): LineWords => ({
  device,
  port,
  raw: '',
  says,
  means: '',
  expected: '',
  agrees: null,
  untaken: '',
  searched: `${port} ${says}`,
});

type About = { device: Device | null; text: string; expected: string; agrees: boolean | null };
const nothing = (device: Device | null): About => ({ device, text: '', expected: '', agrees: null });

/** The function that a message drives or reports, or the control that it comes from. */
function aboutMessage(line: MessageLine, world: World): About {
  const reached = line.functionId ? world.functions.get(line.functionId) : undefined;
  if (reached) {
    const { device, fn } = reached;
    const value = readFunction(device, fn, line.message, line.sequence);
    const shown = value === null || fn.shape.kind === 'trigger' ? '' : ` ${shownText(device, fn, value)}`;
    const agrees = line.expected === null || value === null ? null : line.expected === value;
    return {
      device,
      text: `${device.name} · ${fn.name}${shown}`,
      expected: agrees === false ? `expected ${shownText(device, fn, line.expected!)}` : '',
      agrees,
    };
  }
  if (line.kind === 'out') return nothing(world.devicesBehind.get(line.portId)?.[0] ?? null);
  const control = world.inputs.get(line.portId)?.get(messageKey(line.message));
  if (!control) return nothing(null);
  const { device } = world.boards[control.boardIndex]!;
  return { ...nothing(device), text: `${device.name} · ${control.control.name}` };
}
