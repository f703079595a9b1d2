/**
 * Keys of a computer, by their usage numbers on the keyboard page. Source: USB HID Usage Tables 1.12, section 10,
 * keyboard/keypad page (07); which code a browser tells for each: W3C UI Events KeyboardEvent code Values (both from
 * memory).
 */
type Key = { readonly number: number; readonly code: string; readonly name: string };

const row = (from: number, codes: readonly string[], name: (code: string) => string): Key[] =>
  codes.map((code, i) => ({ number: from + i, code, name: name(code) }));

const LETTERS = [...'ABCDEFGHIJKLMNOPQRSTUVWXYZ'];
const numbered = (word: string, from: number, to: number): string[] =>
  Array.from({ length: to - from + 1 }, (_, i) => `${word}${from + i}`);

const NAMED: readonly (readonly [number: number, code: string, name: string])[] = [
  [40, 'Enter', 'Enter'],
  [42, 'Backspace', 'Backspace'],
  [44, 'Space', 'Space'],
  [45, 'Minus', '-'],
  [46, 'Equal', '='],
  [47, 'BracketLeft', '['],
  [48, 'BracketRight', ']'],
  [49, 'Backslash', 'Backslash'],
  [51, 'Semicolon', ';'],
  [52, 'Quote', "'"],
  [53, 'Backquote', '`'],
  [54, 'Comma', ','],
  [55, 'Period', '..'],
  [56, 'Slash', '/'],
  [73, 'Insert', 'Insert'],
  [74, 'Home', 'Home'],
  [75, 'PageUp', 'Page Up'],
  [76, 'Delete', 'Delete'],
  [77, 'End', 'End'],
  [78, 'PageDown', 'Page Down'],
  [79, 'ArrowRight', 'Right arrow'],
  [80, 'ArrowLeft', 'Left arrow'],
  [81, 'ArrowDown', 'Down arrow'],
  [82, 'ArrowUp', 'Up arrow'],
  [84, 'NumpadDivide', 'Keypad /'],
  [85, 'NumpadMultiply', 'Keypad *'],
  [86, 'NumpadSubtract', 'Keypad -'],
  [87, 'NumpadAdd', 'Keypad +'],
  [88, 'NumpadEnter', 'Keypad Enter'],
  [98, 'Numpad0', 'Keypad 0'],
  [99, 'NumpadDecimal', 'Keypad .'],
];

const KEYS: readonly Key[] = [
  ...row(
    4,
    LETTERS.map((l) => `Key${l}`),
    (code) => code.slice(3),
  ),
  ...row(30, [...numbered('Digit', 1, 9), 'Digit0'], (code) => code.slice(5)),
  ...row(58, numbered('F', 1, 12), (code) => code),
  ...row(89, numbered('Numpad', 1, 9), (code) => `Keypad ${code.slice(6)}`),
  ...row(104, numbered('F', 13, 24), (code) => code),
  ...NAMED.map(([number, code, name]) => ({ number, code, name })),
];

const BY_CODE = new Map(KEYS.map((key) => [key.code, key.number]));
const BY_NUMBER = new Map(KEYS.map((key) => [key.number, key.name]));

/**
 * The usage number (0–127) of the key that a browser tells by its `code`; `null` for those that no control can have:
 * Escape and Tab, which lead out of everything, and keys that are held with others.
 */
export const keyNumber = (code: string): number | null => BY_CODE.get(code) ?? null;

/** What is written on a key. Example: `Page Down`. */
export const keyName = (number: number): string => BY_NUMBER.get(number) ?? `key ${number}`;

/** All keys that a control can have, by number. */
export const KEY_NUMBERS: readonly number[] = [...BY_NUMBER.keys()].sort((a, b) => a - b);
