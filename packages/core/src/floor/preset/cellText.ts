import { parseNote, noteName, type MiddleC } from '../../midi';
import { fail, ok, type Result } from '../../result';
import type { PlainMessage } from './action';
import { nth } from '../../sure';

/** A plain message as a cell of a spreadsheet has it; `channel` 0–15 or `null` for the device's own. */
export type CellMessage = PlainMessage & { readonly channel: number | null };

export type CellTextError = { readonly received: string; readonly expected: string };

const EXPECTED = 'note 36, note C2 velocity 90, CC 7 value 100 channel 3 or program 5';

/** Example: `note 36 C1 velocity 100`, `CC 7 value 100 channel 3`, `program 5`. */
export function messageText(action: CellMessage, middleC: MiddleC): string {
  const channel = action.channel === null ? '' : ` channel ${action.channel + 1}`;
  switch (action.send) {
    case 'note':
      return `note ${action.number} ${noteName(action.number, middleC)} velocity ${action.value}${channel}`;
    case 'controller':
      return `CC ${action.number} value ${action.value}${channel}`;
    case 'program':
      return `program ${action.number}${channel}`;
  }
}

const KINDS: Record<string, PlainMessage['send']> = {
  note: 'note',
  cc: 'controller',
  controller: 'controller',
  program: 'program',
  pc: 'program',
};

/**
 * Reads what `messageText` writes, and the same with less: `36` alone is `fallback` with another number.
 * `null` for an empty cell.
 */
export function parseCellText(
  text: string,
  middleC: MiddleC,
  fallback: CellMessage,
): Result<CellMessage | null, CellTextError> {
  const words = text
    .trim()
    .split(/[\s,]+/)
    .filter(Boolean);
  if (words.length === 0) return ok(null);
  const refuse = fail({ received: text.trim(), expected: EXPECTED });
  const send = KINDS[nth(words, 0).toLowerCase()] ?? fallback.send;
  const rest = nth(words, 0).toLowerCase() in KINDS ? words.slice(1) : words;
  const number = rest[0] === undefined ? null : numberOf(rest[0], send, middleC);
  if (number === null) return refuse;
  const told = { value: fallback.value, channel: fallback.channel };
  // A note may be followed by its name, as it is shown.
  let at = send === 'note' && rest[1] !== undefined && /^[a-g].*\d$/i.test(rest[1]) ? 2 : 1;
  for (; at < rest.length; at += 2) {
    const word = nth(rest, at).toLowerCase();
    const given = Number(rest[at + 1]);
    if (!/^\d+$/.test(rest[at + 1] ?? '')) return refuse;
    if ((word === 'value' || word === 'velocity') && given <= 127) told.value = given;
    else if ((word === 'channel' || word === 'ch') && given >= 1 && given <= 16) told.channel = given - 1;
    else return refuse;
  }
  return ok({ send, number, ...told });
}

function numberOf(word: string, send: PlainMessage['send'], middleC: MiddleC): number | null {
  if (send === 'note') {
    const note = parseNote(word, middleC);
    return note.ok ? note.value : null;
  }
  return /^\d{1,3}$/.test(word) && Number(word) <= 127 ? Number(word) : null;
}
