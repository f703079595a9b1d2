import { nth, there } from '../../sure';
/** A message that stands in a line of a manual. */
export type FoundMessage = {
  /** As `parseDrive` reads it: `CC 22`, `note 36`, `NRPN 2/17`, `program`. */
  readonly message: string;
  /** Of a program that stands alone: its number as the manual counts. */
  readonly program: number | null;
  /** 1–16 where the status byte of the message says one, else `null`. */
  readonly channel: number | null;
  /** Its bytes were written as hexadecimal pairs, and so are its values. */
  readonly isHex: boolean;
  /** The text without it, with `\n` where it stood. */
  readonly rest: string;
};

const NUMBER_SIGN = String.raw`(?:\s*(?:#|no\.?|nr\.?|num(?:ber)?\.?))?\s*[:=]?\s*`;
const NUMBER = String.raw`(?:(\d{1,3})(?!\d|[\da-f]*h\b)|\$([0-9a-f]{2})\b|0x([0-9a-f]{2})\b|([0-9a-f]{2})h\b)`;
const CONTROLLER = String.raw`\b(?:midi\s*)?(?:cc|controllers?|control[ -]?change|ctrl|ctl)\.?`;
/** What stands for a byte that varies. */
const VARIES = String.raw`(?:vv|xx|nn|dd|yy|zz|pp|kk|mm|--)h?`;
const BYTE = String.raw`[0-9a-f]{2}h?`;

type Reader = { readonly form: RegExp; read(match: RegExpExecArray): Omit<FoundMessage, 'rest'> | null };

const plain = (message: string): Omit<FoundMessage, 'rest'> => ({
  message,
  program: null,
  channel: null,
  isHex: false,
});

/** The number of four ways to write one: decimal, `$45`, `0x45`, `45h`. */
const numberOf = (match: RegExpExecArray, at: number): number => {
  const [decimal, ...hex] = match.slice(at, at + 4);
  return decimal !== undefined ? Number(decimal) : parseInt(hex.find((h) => h !== undefined) ?? '', 16);
};

/** The channel of a status byte such as `B2`; `n` and 0 stand for the device's own. */
const channelOf = (nibble: string): number | null =>
  /^[1-9a-f]$/i.test(nibble) ? parseInt(nibble, 16) + 1 : null;

const byteOf = (text: string): number => parseInt(text.replace(/h$/i, ''), 16);

/** Forms of a message, those that say most first. Source: MIDI 1.0 Detailed Specification; the ways to write them: common practice, no source. */
const READERS: readonly Reader[] = [
  {
    form: /\bf0(?:\s+(?:[0-9a-f]{2}h?|vv|xx|nn|dd|yy|zz|pp|value))+\s+f7h?\b/i,
    read: ([text]) =>
      plain(text.replace(/\b(?:vv|xx|nn|dd|yy|zz|pp)\b/gi, 'value').replace(/\b([0-9a-f]{2})h\b/gi, '$1')),
  },
  {
    form: new RegExp(String.raw`\bb([0-9a-fn])h?[ ,]+(${BYTE})(?:[ ,]+${VARIES})?(?![0-9a-z])`, 'i'),
    read: (m) => ({
      ...plain(`CC ${byteOf(nth(m, 2))}`),
      channel: channelOf(nth(m, 1)),
      isHex: true,
    }),
  },
  {
    form: new RegExp(String.raw`\b9([0-9a-fn])h?[ ,]+(${BYTE})(?:[ ,]+${VARIES})?(?![0-9a-z])`, 'i'),
    read: (m) => ({
      ...plain(`note ${byteOf(nth(m, 2))}`),
      channel: channelOf(nth(m, 1)),
      isHex: true,
    }),
  },
  {
    form: new RegExp(String.raw`\bc([0-9a-fn])h?[ ,]+(?:${VARIES})(?![0-9a-z])`, 'i'),
    read: (m) => ({ ...plain('program'), channel: channelOf(nth(m, 1)), isHex: true }),
  },
  {
    form: /\b(n?rpn)\b(?:\s*#)?\s*[:=]?\s*(?:msb\s*[:=]?\s*)?(\d{1,3})\s*(?:[/,:]|\blsb\b|\s)\s*(?:lsb\s*[:=]?\s*)?(\d{1,3})\b(?!\s*(?:-|to\b))(\s*\(?14[ -]?bit\)?)?/i,
    read: ([, kind, msb, lsb, wide]) =>
      plain(`${there(kind)} ${there(msb)}/${there(lsb)}${wide ? ' 14-bit' : ''}`),
  },
  {
    form: /\b(n?rpn)\b(?:\s*#)?\s*[:=]?\s*(\d{1,5})\b(\s*\(?14[ -]?bit\)?)?/i,
    read: ([, kind, number, wide]) => plain(`${there(kind)} ${there(number)}${wide ? ' 14-bit' : ''}`),
  },
  {
    form: new RegExp(
      String.raw`${CONTROLLER}${NUMBER_SIGN}(\d{1,2})\s*(?:\+|/|&|and)\s*(\d{2})\b(?:\s*\(?14[ -]?bit\)?)?`,
      'i',
    ),
    read: ([, coarse, fine]) =>
      Number(fine) === Number(coarse) + 32 ? plain(`CC ${there(coarse)}+${there(fine)}`) : null,
  },
  {
    form: new RegExp(String.raw`${CONTROLLER}${NUMBER_SIGN}${NUMBER}`, 'i'),
    read: (m) => plain(`CC ${numberOf(m, 1)}`),
  },
  {
    form: new RegExp(
      String.raw`\bnotes?\b(?:\s*(?:on|on/off))?${NUMBER_SIGN}${NUMBER}(?:\s*\(?\s*[a-g][#b♯♭]?-?\d\s*\)?)?`,
      'i',
    ),
    read: (m) => plain(`note ${numberOf(m, 1)}`),
  },
  {
    form: /\bnotes?\b(?:\s*(?:on|on\/off))?(?:\s*(?:#|no\.?|number))?\s*[:=]?\s*([a-g][#b♯♭]?-?\d)\b(?:\s*\(\s*\d{1,3}\s*\))?/i,
    read: ([, name]) => plain(`note ${there(name)}`),
  },
  {
    form: /\b(?:midi machine control|mmc|machine)\s*[:=]?\s*(play|deferred play|stop|fast forward|rewind|record strobe|record exit|pause|track \d{1,2})\b/i,
    read: ([, command]) => plain(`machine ${there(command).toLowerCase()}`),
  },
  {
    form: /\b(?:program(?:me)?[ -]?(?:changes?|chg\.?)?|prog\.?(?:[ -]?chg\.?)?|pc|pgm|patch(?:[ -]?change)?)\s*#?\s*[:=]?\s*(\d{1,3})\b(?!\s*(?:-|to\b|=\s*\d))/i,
    read: ([, number]) => ({ ...plain('program'), program: Number(number) }),
  },
  {
    form: /\b(?:program(?:me)?[ -]?(?:changes?|chg\.?)|programs?|prog\.?(?:[ -]?chg\.?)?|pc|pgm|patch[ -]?change)(?=\W|$)/i,
    read: () => plain('program'),
  },
  { form: /\bpitch[ -]?(?:bend|wheel)(?:er)?\b/i, read: () => plain('bend') },
  {
    form: /\b(?:channel|mono)[ -]?(?:pressure|after[ -]?touch)\b|\bafter[ -]?touch\b/i,
    read: () => plain('pressure'),
  },
];

/** The first message that a text says, or `null`. */
export function findMessage(text: string): FoundMessage | null {
  for (const { form, read } of READERS) {
    const match = form.exec(text);
    const found = match && read(match);
    if (!found) continue;
    const rest = without(text, match);
    return WIDE_KINDS.test(found.message) ? wide(found, rest) : { ...found, rest };
  }
  return null;
}

const without = (text: string, match: RegExpExecArray): string =>
  `${text.slice(0, match.index)}\n${text.slice(match.index + match[0].length)}`;

/** Messages of which a manual may say anywhere in the line that their values have 14 bits. */
const WIDE_KINDS = /^(?:n?rpn |cc \d+\+)/i;

function wide(found: Omit<FoundMessage, 'rest'>, rest: string): FoundMessage {
  const match = /\(?\b14[ -]?bits?\b\)?/i.exec(rest);
  if (!match) return { ...found, rest };
  const isSaid = /14-bit$|\+/.test(found.message);
  return {
    ...found,
    message: isSaid ? found.message : `${found.message} 14-bit`,
    rest: without(rest, match),
  };
}

/** Whether a text says no message that a function could be driven by, but one that is played: pressure of single keys. */
export const isKeyPressure = (text: string): boolean =>
  /\b(?:poly(?:phonic)?|key)[ -]?(?:key[ -]?)?(?:pressure|after[ -]?touch)\b/i.test(text);
