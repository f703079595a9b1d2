import { fail, ok, type Result } from '../../result';
import { findName, readWhole } from '../../typed';
import { split14 } from '../../midi';
import type { ChartFunction } from './chartFunction';
import { sentValue, valueBounds } from './functionMessages';
import { programSpan, programText, soundText, typedPlace, typedProgram } from './programNumbers';
import { endsText, readShown, shownEndsText } from './shownEnds';
import type { Device } from '../rig';
import { nth } from '../../sure';

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
      if (shape.ends) return { number: endsText(shape.ends, shape, value), label: '' };
      return { number: String(value - shape.min + shape.shownFrom), label: '' };
    case 'choice':
      return {
        number: String(value - shape.first + shape.shownFrom),
        label: shape.labels[value - shape.first] ?? '',
      };
    case 'program':
      return {
        number: programText(device, value),
        label: shape.names.find((n) => n.program === value)?.name ?? '',
      };
    case 'sound':
      return {
        number: shownSound(device, value >> 7, value & 127),
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
 * Reads a value typed by a person: the number that the device shows, one of its names, a part of a name that only one has,
 * or both as they are shown. The whole text or a refusal.
 * Example: `parseShown(kelpline, snapshot, '3')`, `'full'` and `'3 Full'` are all value 2.
 */
export function parseShown(device: Device, fn: ChartFunction, text: string): Result<number, TypedValueError> {
  const typed = text.trim().toLowerCase();
  const expected = expectedText(device, fn);
  const refuse = (code: TypedValueError['code'], instead = expected) =>
    fail({ code, received: text, expected: instead });
  const { shape } = fn;
  if (shape.kind === 'trigger') return typed === 'send' || typed === '' ? ok(0) : refuse('not-a-value');
  if (shape.kind === 'switch') {
    if (['on', '1', 'yes', String(shape.on)].includes(typed)) return ok(1);
    if (['off', '0', 'no', String(shape.off)].includes(typed)) return ok(0);
    return refuse('not-a-value');
  }
  const named = namesOf(fn);
  const shown = asShown(device, fn, typed);
  if (typeof shown === 'number') return ok(shown);
  const place = findName(
    named.map((n) => n.name),
    typed,
  );
  if (typeof place === 'number') return ok(nth(named, place).value);
  if (shown === 'beyond') return refuse('out-of-range');
  if (place === null) return refuse('not-a-value');
  const several = place.slice(0, NAMES_TOLD).map((i) => shownText(device, fn, nth(named, i).value));
  return refuse('not-a-value', `one of ${several.join(', ')}${place.length > NAMES_TOLD ? ' …' : ''}`);
}

/** Names told at the most where several fit. */
const NAMES_TOLD = 4;

/** The values that have a name. */
export function namesOf({
  shape,
}: ChartFunction): readonly { readonly value: number; readonly name: string }[] {
  switch (shape.kind) {
    case 'choice':
      return shape.labels.map((name, i) => ({ value: shape.first + i, name }));
    case 'program':
      return shape.names.map(({ program, name }) => ({ value: program, name }));
    case 'sound':
      return shape.names.map((n) => ({ value: soundValue(n), name: n.name }));
    default:
      return [];
  }
}

/** A value by its number, alone or with its own name behind it; `null` where it is no number. */
function asShown(device: Device, fn: ChartFunction, typed: string): number | null | 'beyond' {
  if (fn.shape.kind === 'range' && fn.shape.ends) return readShown(fn.shape.ends, fn.shape, typed);
  const [first, ...behind] = squeezed(typed).split(' ');
  const value = numberTyped(device, fn, first ?? '');
  if (behind.length === 0) return value;
  if (typeof value !== 'number') return null;
  const { label } = shownValue(device, fn, value);
  return squeezed(label.toLowerCase()) === behind.join(' ') ? value : null;
}

/** Without spaces around strokes, and one at the most elsewhere. */
const squeezed = (text: string): string =>
  text
    .replace(/\s*\/\s*/g, '/')
    .replace(/\s+/g, ' ')
    .trim();

function numberTyped(device: Device, fn: ChartFunction, typed: string): number | null | 'beyond' {
  const { shape } = fn;
  if (shape.kind === 'sound') return typedSound(device, typed);
  if (shape.kind === 'program') return typedProgram(device, typed);
  const number = readWhole(typed);
  if (number === null) return null;
  const value = number - shownOffset(fn);
  const { min, max } = valueBounds(shape);
  return value >= min && value <= max ? value : 'beyond';
}

/** What a function takes, as people type it. Example: `1 to 8`. */
export function expectedText(device: Device, fn: ChartFunction): string {
  if (fn.shape.kind === 'trigger') return 'send';
  if (fn.shape.kind === 'switch') return 'on or off';
  if (fn.shape.kind === 'sound') {
    if (soundText(device, 0, 0) !== null) return `a sound like ${programText(device, 0)}, or a name`;
    return `bank and program, like 2/${programText(device, 0)} to 2/${programText(device, 127)}, or a name`;
  }
  if (fn.shape.kind === 'program') return programSpan(device);
  if (fn.shape.kind === 'range' && fn.shape.ends) return shownEndsText(fn.shape.ends).replace(/ log$/, '');
  const { min, max } = valueBounds(fn.shape);
  const offset = shownOffset(fn);
  return `${min + offset} to ${max + offset}`;
}

/** Bank × 128 + program. */
export const soundValue = ({ bank, program }: { bank: number; program: number }): number =>
  (bank << 7) | program;

/** A sound as its device counts it: by a pattern that goes on over banks, else by bank and program. */
function shownSound(device: Device, bank: number, program: number): string {
  const text = soundText(device, placeOfBank(device, bank), program);
  return text ?? `${bankText(device, bank)}/${programText(device, program)}`;
}

/** Banks by the half that the device wants, counted from 0. */
const placeOfBank = ({ bankSelect }: Device, bank: number): number =>
  bankSelect === 'msb' ? bank >> 7 : bank;

/** A bank as its device counts it: by the half that it wants, else MSB/LSB where the first is used. */
function bankText({ bankSelect }: Device, bank: number): string {
  const { msb, lsb } = split14(bank);
  if (bankSelect === 'msb') return String(msb);
  return bankSelect === 'lsb' || msb === 0 ? String(lsb) : `${msb}/${lsb}`;
}

/** Reads `2/5` or `1/0/5`, and what is shown behind it. `null` where it is neither. */
function typedSound(device: Device, typed: string): number | null | 'beyond' {
  const place = typedPlace(device, typed);
  if (place)
    return soundValue({ ...place, bank: device.bankSelect === 'msb' ? place.bank << 7 : place.bank });
  const match = /^(?:(\d{1,3})\s*\/\s*)?(\d{1,5})\s*\/\s*([^/]+)$/.exec(typed);
  if (!match) return null;
  const [coarse, number] = [match[1] === undefined ? null : Number(match[1]), Number(match[2])];
  const program = typedProgram(device, nth(match, 3));
  if (program === null) return null;
  const isHalf = coarse !== null || device.bankSelect === 'msb' || device.bankSelect === 'lsb';
  if (program === 'beyond' || (coarse ?? 0) > 127 || number > (isHalf ? 127 : 16383)) return 'beyond';
  const bank = coarse !== null ? (coarse << 7) | number : device.bankSelect === 'msb' ? number << 7 : number;
  return soundValue({ bank, program });
}

/** What is added to a value to get the number that people see. */
function shownOffset(fn: ChartFunction): number {
  const { shape } = fn;
  if (shape.kind === 'range') return shape.shownFrom - shape.min;
  if (shape.kind === 'choice') return shape.shownFrom - shape.first;
  return 0;
}
