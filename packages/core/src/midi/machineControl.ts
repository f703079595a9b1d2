import { sysex, type Message } from './message';
import { data7 } from './numbers';
import { keysOf, nth } from '../sure';

/** MIDI Machine Control. Source of every byte here: RP-013, MIDI Machine Control 1.0. */

/** Device number that every machine answers to. */
export const ALL_MACHINES = 0x7f;

export const TRANSPORT = {
  stop: 0x01,
  play: 0x02,
  'deferred-play': 0x03,
  'fast-forward': 0x04,
  rewind: 0x05,
  'record-strobe': 0x06,
  'record-exit': 0x07,
  'record-pause': 0x08,
  pause: 0x09,
} as const;
export type TransportCommand = keyof typeof TRANSPORT;
const COMMAND_OF = new Map<number, TransportCommand>(
  keysOf(TRANSPORT).map((name) => [TRANSPORT[name], name]),
);

export type FrameRate = 24 | 25 | '30-drop' | 30;
const RATE_CODE: Record<FrameRate, number> = { 24: 0, 25: 1, '30-drop': 2, 30: 3 };
const RATES: readonly FrameRate[] = [24, 25, '30-drop', 30];

export type MachineControl =
  | { readonly kind: 'transport'; readonly machine: number; readonly command: TransportCommand }
  /** `track` counts from 1. */
  | {
      readonly kind: 'record-ready';
      readonly machine: number;
      readonly track: number;
      readonly armed: boolean;
    }
  | {
      readonly kind: 'locate';
      readonly machine: number;
      readonly rate: FrameRate;
      readonly hours: number;
      readonly minutes: number;
      readonly seconds: number;
      readonly frames: number;
    };

const MASKED_WRITE = 0x41;
const LOCATE = 0x44;
const TRACK_RECORD_READY = 0x4f;

/** Highest track taken here. The published bit map runs on, but no host was found to need more. */
export const MAX_TRACK = 64;

/**
 * The message of one machine command. `machine` 0–127 (127 is all), tracks 1–64.
 * Example: arming track 1 on all machines is `F0 7F 7F 06 41 04 4F 00 20 20 F7`.
 */
export function machineMessage(control: MachineControl): Message {
  const head = [0x7f, data7(control.machine), 0x06];
  switch (control.kind) {
    case 'transport':
      return sysex([...head, TRANSPORT[control.command]]);
    case 'record-ready': {
      const { byte, mask } = trackBit(control.track);
      return sysex([...head, MASKED_WRITE, 0x04, TRACK_RECORD_READY, byte, mask, control.armed ? mask : 0]);
    }
    case 'locate':
      return sysex([
        ...head,
        LOCATE,
        0x06,
        0x01,
        (RATE_CODE[control.rate] << 5) | control.hours,
        control.minutes,
        control.seconds,
        control.frames,
        0,
      ]);
  }
}

/** Reads a machine command back; a masked write may name several tracks and so gives several. Empty: not one. */
export function readMachineControl(message: Message): MachineControl[] {
  if (message.kind !== 'sysex') return [];
  const d = message.data;
  if (d.length < 4 || d[0] !== 0x7f || d[2] !== 0x06) return [];
  const machine = nth(d, 1);
  const command = d.length === 4 ? COMMAND_OF.get(nth(d, 3)) : undefined;
  if (command) return [{ kind: 'transport', machine, command }];
  if (d[3] === MASKED_WRITE && d.length === 9 && d[4] === 0x04 && d[5] === TRACK_RECORD_READY)
    return readTracks(machine, nth(d, 6), nth(d, 7), nth(d, 8));
  if (d[3] === LOCATE && d.length === 11 && d[4] === 0x06 && d[5] === 0x01) {
    const hours = nth(d, 6) & 0x1f;
    return [
      {
        kind: 'locate',
        machine,
        rate: nth(RATES, nth(d, 6) >> 5),
        hours,
        minutes: nth(d, 7),
        seconds: nth(d, 8),
        frames: nth(d, 9),
      },
    ];
  }
  return [];
}

/** Position of a track (from 1) in the record-ready bit map: seven tracks a byte, after five bits of other use. */
function trackBit(track: number): { byte: number; mask: number } {
  if (!Number.isInteger(track) || track < 1 || track > MAX_TRACK)
    throw new RangeError(`track ${track} is outside 1–${MAX_TRACK}`);
  return { byte: Math.floor((track + 4) / 7), mask: 1 << ((track + 4) % 7) };
}

function readTracks(machine: number, byte: number, mask: number, data: number): MachineControl[] {
  const out: MachineControl[] = [];
  for (let bit = 0; bit < 7; bit++) {
    const track = byte * 7 + bit - 4;
    if (mask & (1 << bit) && track >= 1)
      out.push({ kind: 'record-ready', machine, track, armed: (data & (1 << bit)) !== 0 });
  }
  return out;
}
