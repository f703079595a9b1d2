import { fail, ok, type Result } from '../result';
import { split14 } from '../midi';
import type { ChartFunction } from './chartFunction';
import { sentValue, valueBounds } from './functionMessages';
import type { Device } from './rig';

/** The one place where a value as sent becomes what people see on the device, and back. */

/** Example: choice value 2 of the snapshots Dry, Body, Full is `{ number: '3', label: 'Full' }`. */
export function shownValue(
  device: Device,
  fn: ChartFunction,
  value: number,
): { number: string; label: string } {
  const { shape } = fn;
  switch (shape.kind) {
    case 'trigger':
      return { number: '', label: 'send' };
    case 'switch':
      return { number: '', label: value === 1 ? 'on' : 'off' };
    case 'range':
      return { number: String(value - shape.min + shape.shownFrom), label: '' };
    case 'choice':
      return {
        number: String(value - shape.first + shape.shownFrom),
        label: shape.labels[value - shape.first] ?? '',
      };
    case 'program':
      return {
        number: String(value + device.programsShownFrom),
        label: shape.names.find((n) => n.program === value)?.name ?? '',
      };
    case 'sound':
      return {
        number: `${bankText(device, value >> 7)}/${(value & 127) + device.programsShownFrom}`,
        label: shape.names.find((n) => soundValue(n) === value)?.name ?? '',
      };
  }
}

/** Example: `3 Full`, `on`, `88`. */
export function shownText(device: Device, fn: ChartFunction, value: number): string {
  const { number, label } = shownValue(device, fn, value);
  return [number, label].filter(Boolean).join(' ');
}

/** The value as sent, for showing muted beside the one that people see. Example: switch on is 127. */
export const sentText = (fn: ChartFunction, value: number): string => String(sentValue(fn.shape, value));

export type TypedValueError = {
  readonly code: 'not-a-value' | 'out-of-range';
  readonly received: string;
  /** What would be right, as a half-sentence. */
  readonly expected: string;
};

/**
 * Reads a value typed by a person, in the numbering that the device shows, or one of its names.
 * Example: `parseShown(kelpline, snapshot, '3')` and `'full'` are both value 2.
 */
export function parseShown(device: Device, fn: ChartFunction, text: string): Result<number, TypedValueError> {
  const typed = text.trim().toLowerCase();
  const expected = expectedText(device, fn);
  const refuse = (code: TypedValueError['code']) => fail({ code, received: text, expected });
  const { shape } = fn;
  if (shape.kind === 'trigger') return typed === 'send' || typed === '' ? ok(0) : refuse('not-a-value');
  if (shape.kind === 'switch') {
    if (['on', '1', 'yes', String(shape.on)].includes(typed)) return ok(1);
    if (['off', '0', 'no', String(shape.off)].includes(typed)) return ok(0);
    return refuse('not-a-value');
  }
  const named = namedValue(fn, typed);
  if (named !== null) return ok(named);
  if (shape.kind === 'sound') {
    const sound = typedSound(device, typed);
    return sound === null ? refuse('not-a-value') : sound === 'beyond' ? refuse('out-of-range') : ok(sound);
  }
  const number = /^-?\d+/.exec(typed)?.[0];
  if (number === undefined) return refuse('not-a-value');
  const value = Number(number) - shownOffset(device, fn);
  const { min, max } = valueBounds(shape);
  return value >= min && value <= max ? ok(value) : refuse('out-of-range');
}

/** What a function takes, as people type it. Example: `1 to 8`. */
export function expectedText(device: Device, fn: ChartFunction): string {
  if (fn.shape.kind === 'trigger') return 'send';
  if (fn.shape.kind === 'switch') return 'on or off';
  if (fn.shape.kind === 'sound') {
    const from = device.programsShownFrom;
    return `bank and program, like 2/${from} to 2/${from + 127}, or a name`;
  }
  const { min, max } = valueBounds(fn.shape);
  const offset = shownOffset(device, fn);
  return `${min + offset} to ${max + offset}`;
}

function namedValue(fn: ChartFunction, typed: string): number | null {
  if (typed === '') return null;
  if (fn.shape.kind === 'choice') {
    const index = fn.shape.labels.findIndex((l) => l.toLowerCase() === typed);
    return index < 0 ? null : fn.shape.first + index;
  }
  if (fn.shape.kind === 'program')
    return fn.shape.names.find((n) => n.name.toLowerCase() === typed)?.program ?? null;
  if (fn.shape.kind === 'sound') {
    const found = fn.shape.names.find((n) => n.name.toLowerCase() === typed);
    return found ? soundValue(found) : null;
  }
  return null;
}

/** Bank × 128 + program. */
export const soundValue = ({ bank, program }: { bank: number; program: number }): number =>
  (bank << 7) | program;

/** A bank as its device counts it: by the half that it wants, else MSB/LSB where the first is used. */
function bankText({ bankSelect }: Device, bank: number): string {
  const { msb, lsb } = split14(bank);
  if (bankSelect === 'msb') return String(msb);
  return bankSelect === 'lsb' || msb === 0 ? String(lsb) : `${msb}/${lsb}`;
}

/** Reads `2/5` or `1/0/5`, and what is shown behind it. `null` where it is neither. */
function typedSound(device: Device, typed: string): number | null | 'beyond' {
  const match = /^(?:(\d{1,3})\s*\/\s*)?(\d{1,5})\s*\/\s*(\d{1,3})(?:\s|$)/.exec(typed);
  if (!match) return null;
  const [coarse, number] = [match[1] === undefined ? null : Number(match[1]), Number(match[2])];
  const program = Number(match[3]) - device.programsShownFrom;
  const isHalf = coarse !== null || device.bankSelect === 'msb' || device.bankSelect === 'lsb';
  if (program < 0 || program > 127 || (coarse ?? 0) > 127 || number > (isHalf ? 127 : 16383)) return 'beyond';
  const bank = coarse !== null ? (coarse << 7) | number : device.bankSelect === 'msb' ? number << 7 : number;
  return soundValue({ bank, program });
}

/** What is added to a value to get the number that people see. */
function shownOffset(device: Device, fn: ChartFunction): number {
  const { shape } = fn;
  if (shape.kind === 'range') return shape.shownFrom - shape.min;
  if (shape.kind === 'choice') return shape.shownFrom - shape.first;
  return shape.kind === 'program' ? device.programsShownFrom : 0;
}
