import { escapeName } from '../nameList';
import { nth, there } from '../../sure';

/** What a piece of text says of the values of a function, as the cells of its row. */
export type FoundValues = {
  readonly kind: string;
  readonly values: string;
  readonly shownFrom: string;
  /** What of the text was no part of it. */
  readonly rest: string;
};

/** As many as a choice has names, where a range without names is taken for one. */
const CHOICES_AT_MOST = 16;
const SPAN = String.raw`(\d{1,5})\s*(?:-|to)\s*(\d{1,5})`;

const found = (kind: string, values: string, rest: string, shownFrom = ''): FoundValues => ({
  kind,
  values,
  shownFrom,
  rest,
});

const without = (text: string, match: RegExpExecArray): string =>
  `${text.slice(0, match.index)}\n${text.slice(match.index + match[0].length)}`;

/** Words without the signs around them that held them apart from what was taken out. */
export function tidy(text: string): string {
  return text
    .replace(/\n/g, ' ')
    .replace(/\(\s*\)|\[\s*\]/g, ' ')
    .replace(/\b(?:value|range|values)\s*[:=]?\s*$/i, '')
    .replace(/\s+/g, ' ')
    .replace(/^[\s:;,.=|/–—>•*·-]+/, '')
    .replace(/[\s:;,=|/–—([•*·-]+$/, '')
    .trim();
}

/** @param name of the function, empty where it is what is left of the text. */
type Reader = (text: string, name: string) => FoundValues | null;

/** `1-4 = 0-3`: what the device shows, and what is sent for it. */
const shownAndSent: Reader = (text, name) => {
  const match = new RegExp(String.raw`${SPAN}\s*(?:=|:|\()\s*${SPAN}\s*\)?`, 'i').exec(text);
  if (!match) return null;
  const group = (n: number): number => Number(match[n]);
  const [from, to, low, high] = [group(1), group(2), group(3), group(4)];
  if (to - from !== high - low || to <= from) return null;
  const rest = without(text, match);
  if (to - from >= CHOICES_AT_MOST) return found('', `${low}-${high}`, rest, String(from));
  const names = Array.from(
    { length: to - from + 1 },
    (_, i) => `${low + i}=${escapeName(`${name || tidy(rest)} ${from + i}`.trim())}`,
  );
  return found('choice', names.join('; '), rest, String(from));
};

/** `0-63 off, 64-127 on`, `64 and above: on`. */
const halves: Reader = (text) => {
  const off = String.raw`(?:(?:0\s*(?:-|to)\s*63|<\s*64|0)\s*[=:]?\s*\(?(off|bypass(?:ed)?|on|engaged?|active)\)?|(off|bypass(?:ed)?|on)\s*[=:]?\s*\(?(?:0\s*(?:-|to)\s*63|<\s*64)\)?)`;
  const on = String.raw`(?:(?:64\s*(?:-|to)\s*127|(?:>=?|≥|=>)\s*6[34]|64\s*(?:and|or)\s*(?:above|up|more|higher)|127)\s*[=:]?\s*\(?(on|engaged?|active|off|bypass(?:ed)?)\)?|(on|off)\s*[=:]?\s*\(?(?:64\s*(?:-|to)\s*127|(?:>=?|≥)\s*6[34])\)?)`;
  const match = new RegExp(String.raw`${off}\s*[,;/|&]?\s*(?:and\s+)?${on}`, 'i').exec(text);
  if (!match) return null;
  const isLow = /^(?:on|engaged?|active)$/i.test(match[1] ?? match[2] ?? '');
  return found('switch', isLow ? '127/0' : '0/127', without(text, match));
};

/** `off = 0, on = 127`, and with the numbers in front. */
const offAndOn: Reader = (text) => {
  const named = /\b(off|on)\s*[=:]\s*(\d{1,3})\b\s*[,;/|]?\s*(?:and\s+)?(off|on)\s*[=:]\s*(\d{1,3})\b/i.exec(
    text,
  );
  const counted =
    /\b(\d{1,3})\s*[=:]?\s*\(?(off|on)\b\)?\s*[,;/|]?\s*(?:and\s+)?(\d{1,3})\s*[=:]?\s*\(?(off|on)\b\)?/i.exec(
      text,
    );
  const match = named ?? counted;
  if (!match) return null;
  const [a, x, b, y] = named ? match.slice(1, 5) : [match[2], match[1], match[4], match[3]];
  if (there(a).toLowerCase() === there(b).toLowerCase()) return null;
  const off = there(a).toLowerCase() === 'off' ? x : y;
  const on = there(a).toLowerCase() === 'off' ? y : x;
  return found('switch', `${there(off)}/${there(on)}`, without(text, match));
};

/** `on/off` alone. */
const onOff: Reader = (text) => {
  const match = /\(?\b(?:on\s*[/,|]\s*off|off\s*[/,|]\s*on)\b\)?/i.exec(text);
  return match && found('switch', '0/127', without(text, match));
};

/** One name with its number or its span of numbers in front: `0=Dry`, `3: Full`, `0-42 Dry`. */
const NUMBERED = /^\s*(\d{1,5})(?:\s*(?:-|to)\s*(\d{1,5}))?\s*(?:[=:.)]|\s-\s|\s)\s*(\S.*?)\s*$/i;

export type NumberedName = { readonly number: number; readonly name: string };

/** Reads `0=Dry` or `0-42 Dry`: the lowest number of a span is sent for it. `null` where it is none. */
export function numberedName(text: string): NumberedName | null {
  const match = NUMBERED.exec(text);
  if (!match || /^[\d\W]+$/.test(nth(match, 3))) return null;
  return { number: Number(match[1]), name: nth(match, 3).replace(/[.,;]+$/, '') };
}

/** Where a list of numbered names begins: at a number with a sign behind it, else at one with a word behind it. */
const LIST_STARTS = [
  /\d{1,5}(?:\s*(?:-|to)\s*\d{1,5})?\s*[=:]\s*[^\s\d]/i,
  /\d{1,5}(?:\s*(?:-|to)\s*\d{1,5})?\s+[^\W\d]/i,
];

/** Names with their numbers in one cell, whatever they lie apart by. */
const numberedNames: Reader = (text) => {
  for (const form of LIST_STARTS) {
    const start = text.search(form);
    if (start < 0) continue;
    const list = text.slice(start).replace(/[)\]]\s*$/, '');
    for (const apart of [';', '|', ',', '/', /\s{2,}|\n/, /\s+(?=\d{1,5}\s*[=:])/]) {
      const pieces = list.split(apart).filter((p) => p.trim() !== '');
      const names = pieces.flatMap((piece) => numberedName(piece) ?? []);
      if (pieces.length < 2 || names.length < pieces.length) continue;
      return found('choice', namesText(names), text.slice(0, start).replace(/[([]\s*$/, ''));
    }
  }
  return null;
};

/** Names as a cell of the chart has them. */
export const namesText = (names: readonly NumberedName[]): string =>
  names.map((n) => `${n.number}=${escapeName(n.name)}`).join('; ');

/** `0-127`, `0 to 127`. */
const span: Reader = (text) => {
  const match = new RegExp(
    String.raw`(?:\b(?:values?|range|data)\s*[:=]?\s*)?[([]?(?<![\w.])${SPAN}(?![\w.])[)\]]?`,
    'i',
  ).exec(text);
  return match && Number(match[1]) < Number(match[2])
    ? found('', `${Number(match[1])}-${Number(match[2])}`, without(text, match))
    : null;
};

/** `any value`: what is sent is of no account. */
const anyValue: Reader = (text) => {
  const match = /\(?\bany(?: value)?\b\)?/i.exec(text);
  return match && found('trigger', '127', without(text, match));
};

/** What a text says of values wherever it stands in it. */
const READERS: readonly Reader[] = [shownAndSent, halves, offAndOn, onOff, numberedNames, span, anyValue];

/** A name that says itself that it is switched: `Chorus on/off`. */
export const switchedName = (name: string): FoundValues | null => onOff(name, '');

export function findValues(text: string, name: string): FoundValues | null {
  for (const read of READERS) {
    const values = read(text, name);
    if (values) return values;
  }
  return null;
}

/** What a cell says that holds values and nothing else: also names without numbers, one number, or that any does. */
export function valuesOfCell(cell: string, name: string): FoundValues | null {
  const text = cell.trim().replace(/^[([](.*)[)\]]$/, '$1');
  if (text === '' || /^(?:-+|n\/?a|—)$/i.test(text)) return found('', '', '');
  if (/^(?:any(?: value)?|all|trigger|momentary|x)$/i.test(text)) return found('trigger', '127', '');
  const single = /^(?:(?:value|send)s?\s*[:=]?\s*)?(\d{1,5})$/i.exec(text);
  if (single) return found('trigger', String(Number(single[1])), '');
  const values = findValues(text, name);
  if (values) return values;
  const names = text.split(/\s*[,;/|]\s*/);
  if (names.length < 2 || names.some((n) => n === '' || /\d{2}/.test(n))) return null;
  return found('choice', namesText(names.map((n, number) => ({ number, name: n }))), '');
}

/** The same values with numbers that were hexadecimal. Example: `00-7F` is `0-127`. */
export const fromHex = (text: string): string =>
  text.replace(/\b([0-9a-f]{2})h?(?=\s*(?:-|to|$|[^0-9a-z]))/gi, (_, pair: string) =>
    String(parseInt(pair, 16)),
  );
