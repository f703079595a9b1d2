import { assertNever } from '../result';
import { controllerName } from './controllers';
import { readMachineControl } from './machineControl';
import type { Message } from './message';
import { noteLabel, type MiddleC } from './noteNames';
import { parameterNow, type Sequence } from './sequences';

/**
 * One line in people's numbering: channels 1–16, programs as sent, notes with their name.
 * Example: controller 22 = 2 on channel index 2 is `Ch 3 CC 22 = 2`.
 */
export function describeMessage(message: Message, middleC: MiddleC): string {
  switch (message.kind) {
    case 'note-on':
      return `Ch ${message.channel + 1} note ${noteLabel(message.note, middleC)} on, velocity ${message.velocity}`;
    case 'note-off':
      return `Ch ${message.channel + 1} note ${noteLabel(message.note, middleC)} off`;
    case 'poly-pressure':
      return `Ch ${message.channel + 1} pressure ${noteLabel(message.note, middleC)} = ${message.pressure}`;
    case 'controller':
      return `Ch ${message.channel + 1} CC ${message.controller} = ${message.value}`;
    case 'program':
      return `Ch ${message.channel + 1} program ${message.program}`;
    case 'channel-pressure':
      return `Ch ${message.channel + 1} pressure = ${message.pressure}`;
    case 'pitch-bend':
      return `Ch ${message.channel + 1} bend ${signed(message.value - 8192)}`;
    case 'sysex':
      return describeSysex(message);
    case 'quarter-frame':
      return `Time code quarter frame ${message.data}`;
    case 'song-position':
      return `Song position ${message.sixteenths}`;
    case 'song-select':
      return `Song select ${message.song}`;
    case 'tune-request':
      return 'Tune request';
    case 'clock':
      return 'Clock';
    case 'start':
      return 'Start';
    case 'continue':
      return 'Continue';
    case 'stop':
      return 'Stop';
    case 'active-sensing':
      return 'Active sensing';
    case 'reset':
      return 'Reset';
    default:
      return assertNever(message);
  }
}

/**
 * What a message is about, for grouping: its kind (a note-off counts as its note-on), its number where it has one, and
 * its value. Example: CC 22 = 2 is `controller`, 22 and 2.
 */
export function describeKind(message: Message): {
  kind: Message['kind'];
  number: number | null;
  value: number;
} {
  switch (message.kind) {
    case 'note-on':
      return { kind: 'note-on', number: message.note, value: message.velocity };
    case 'note-off':
      return { kind: 'note-on', number: message.note, value: 0 };
    case 'poly-pressure':
      return { kind: message.kind, number: message.note, value: message.pressure };
    case 'controller':
      return { kind: message.kind, number: message.controller, value: message.value };
    case 'program':
      return { kind: message.kind, number: null, value: message.program };
    case 'channel-pressure':
      return { kind: message.kind, number: null, value: message.pressure };
    case 'pitch-bend':
      return { kind: message.kind, number: null, value: message.value };
    case 'song-select':
      return { kind: message.kind, number: null, value: message.song };
    case 'song-position':
      return { kind: message.kind, number: null, value: message.sixteenths };
    default:
      return { kind: message.kind, number: null, value: 0 };
  }
}

/** The standard's own name for what a message is about, or `null`. Example: CC 7 is `Volume`. */
export const standardName = (message: Message): string | null =>
  message.kind === 'controller' ? controllerName(message.controller) : null;

/** A sequence in one line. Example: NRPN 2/17 set to 100 is `NRPN 2/17 = 100`. */
export function describeSequence(sequence: Sequence): string {
  const pair = (n: number) => `${n >> 7}/${n & 127}`;
  switch (sequence.kind) {
    case 'controller-14':
      return `CC ${sequence.controller}+${sequence.controller + 32} = ${sequence.value}`;
    case 'bank-program':
      return `bank ${pair(sequence.bank)}, program ${sequence.program}`;
    default:
      return `${sequence.kind.toUpperCase()} ${pair(sequence.parameter)} = ${parameterNow(sequence, 14)}`;
  }
}

function describeSysex(message: Message & { kind: 'sysex' }): string {
  const controls = readMachineControl(message);
  const first = controls[0];
  if (!first) return `SysEx, ${message.data.length + 2} bytes`;
  switch (first.kind) {
    case 'transport':
      return `Machine ${first.command.replace('-', ' ')}`;
    case 'record-ready':
      return controls
        .map((c) => (c.kind === 'record-ready' ? `Track ${c.track} ${c.armed ? 'armed' : 'not armed'}` : ''))
        .join(', ');
    case 'locate':
      return `Machine locate ${[first.hours, first.minutes, first.seconds, first.frames]
        .map((n) => String(n).padStart(2, '0'))
        .join(':')}`;
  }
}

const signed = (n: number): string => (n > 0 ? `+${n}` : n < 0 ? `−${-n}` : '0');
