import { messageKey, type World } from '@idle-step/core/engine';
import type { Device } from '@idle-step/core/gear';
import { readFunction, shownText } from '@idle-step/core/gear';
import { describeMessage, encode, hex, standardName } from '@idle-step/core/midi';
import { ArrowDownLeft, ArrowUpRight, TriangleAlert } from 'lucide-react';
import { memo } from 'react';
import type { LogLine } from '../../live/monitorLog';
import { TapeMark } from '../../ui/TapeMark';
import { noteSentence } from '../../live/noteSentence';

/** Bytes shown of a long message; the whole is in the hint. */
const BYTES_SHOWN = 4;

/** Time of day to the millisecond, without the hour: `14:09.904`. */
const clock = (wallMs: number): string => {
  const d = new Date(wallMs);
  const two = (n: number) => String(n).padStart(2, '0');
  return `${two(d.getMinutes())}:${two(d.getSeconds())}.${String(d.getMilliseconds()).padStart(3, '0')}`;
};

export const MonitorLine = memo(function MonitorLine({ line, world }: { line: LogLine; world: World }) {
  if (line.kind === 'note')
    return (
      <li className="told">
        <time>{clock(line.wallMs)}</time>
        {noteSentence(line.note, world)}
      </li>
    );
  if (line.kind === 'fault')
    return (
      <li>
        <time>{clock(line.wallMs)}</time>
        <span className="raw">{hex(line.fault.bytes)}</span>
        <TriangleAlert size={14} aria-label="broken bytes" />
        <span />
        <span className="says">{line.fault.code.replaceAll('-', ' ')}</span>
        <span className="means">skipped</span>
      </li>
    );
  const bytes = encode(line.message);
  const about = line.kind === 'out' ? target(line, world) : source(line, world);
  const Arrow = line.kind === 'out' ? ArrowUpRight : ArrowDownLeft;
  return (
    <li>
      <time>{clock(line.wallMs)}</time>
      <span className="raw" title={hex(bytes)}>
        {hex(bytes.slice(0, BYTES_SHOWN))}
        {bytes.length > BYTES_SHOWN ? '…' : ''}
      </span>
      <Arrow size={14} className={line.kind} aria-label={line.kind === 'out' ? 'out' : 'in'} />
      {about.device ? <TapeMark mark={about.device.mark} name={about.device.name} /> : <span />}
      <span className="says">{describeMessage(line.message, world.show.rig.middleC)}</span>
      <span className="means">{about.text || standardName(line.message) || about.device?.name}</span>
    </li>
  );
});

type About = { device: Device | null; text: string };

function target(line: LogLine & { kind: 'in' | 'out' }, world: World): About {
  const reached = line.functionId ? world.functions.get(line.functionId) : undefined;
  if (!reached) return { device: world.devicesBehind.get(line.portId)?.[0] ?? null, text: '' };
  const value = readFunction(reached.device, reached.fn, line.message);
  const shown = value === null ? '' : shownText(reached.device, reached.fn, value);
  return {
    device: reached.device,
    text: `${reached.fn.name} ${reached.fn.shape.kind === 'trigger' ? '' : shown}`.trim(),
  };
}

function source(line: LogLine & { kind: 'in' | 'out' }, world: World): About {
  const control = world.inputs.get(line.portId)?.get(messageKey(line.message));
  if (!control) return { device: null, text: '' };
  return { device: world.boards[control.boardIndex]!.device, text: control.control.name };
}
