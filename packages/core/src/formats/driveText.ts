import { parseTemplate, type Drive } from '../gear';
import { noteLabel, parseNote, TRANSPORT, type MiddleC } from '../midi';
import { fail, ok, type Result } from '../result';
import { keysOf, nth } from '../sure';

const COMMANDS = keysOf(TRANSPORT);
const MAX_TRACK = 64;

/**
 * The message that drives a function, in words. Examples: `CC 22`, `CC 7+39` (both halves of a 14-bit pair),
 * `note 60 C3`, `program`, `program 1/0` (bank MSB/LSB), `sound` (bank and program as one value), `NRPN 2/17 14-bit`, `bend`, `pressure`,
 * `F0 7D value F7`, `machine play`, `machine track 3`.
 */
export function driveText(drive: Drive, middleC: MiddleC | null): string {
  switch (drive.kind) {
    case 'controller':
      return `CC ${drive.controller}`;
    case 'controller-14':
      return `CC ${drive.controller}+${drive.controller + 32}`;
    case 'note':
      return `note ${middleC === null ? drive.note : noteLabel(drive.note, middleC)}`;
    case 'program':
      return drive.bank === null ? 'program' : `program ${pair(drive.bank)}`;
    case 'sound':
      return 'sound';
    case 'parameter':
      return `${drive.registered ? 'RPN' : 'NRPN'} ${pair(drive.parameter)}${drive.bits === 14 ? ' 14-bit' : ''}`;
    case 'pitch-bend':
      return 'bend';
    case 'channel-pressure':
      return 'pressure';
    case 'sysex':
      return drive.template;
    case 'transport':
      return `machine ${drive.command.replaceAll('-', ' ')}`;
    case 'record-ready':
      return `machine track ${drive.track}`;
  }
}

/** Reads what `driveText` writes; a bare number is a controller, a bare note name a note. The error is a sentence. */
export function parseDrive(text: string, middleC: MiddleC): Result<Drive, string> {
  const typed = text.trim();
  const words = typed.toLowerCase().replace(/\s+/g, ' ');
  if (words === '')
    return fail('The message is missing; CC 22, note 60, program or NRPN 2/17 would be right.');
  if (words.startsWith('f0')) {
    const template = parseTemplate(typed);
    return template.ok
      ? ok({ kind: 'sysex', template: typed.replace(/\s+/g, ' ') })
      : fail(template.error.sentence);
  }
  return (
    parseController(words) ??
    parseNoteDrive(typed, middleC) ??
    parseProgram(words) ??
    parseParameter(words) ??
    parseMachine(words) ??
    (words === 'bend' || words === 'pitch bend'
      ? ok({ kind: 'pitch-bend' as const })
      : words === 'pressure' || words === 'channel pressure'
        ? ok({ kind: 'channel-pressure' as const })
        : words === 'sound' || words === 'bank and program'
          ? ok({ kind: 'sound' as const })
          : fail(
              `“${typed}” is no message; CC 22, CC 7+39, note 60, program, program 1/0, sound, NRPN 2/17, bend, pressure, machine play or F0 … F7 would be right.`,
            ))
  );
}

type Parsed = Result<Drive, string> | null;

function parseController(words: string): Parsed {
  const match = /^(?:(14-bit )?(?:cc|controller) ?)?(\d+)(?: ?\+ ?(\d+))?$/.exec(words);
  if (!match) return null;
  const [, wide, first, second] = match;
  const controller = Number(first);
  if (wide === undefined && second === undefined)
    return controller <= 127
      ? ok({ kind: 'controller', controller })
      : fail(`Controller ${controller} is out of range; 0 to 127 would be right.`);
  if (controller > 31 || (second !== undefined && Number(second) !== controller + 32))
    return fail(
      `${words.toUpperCase()} is no 14-bit pair; 0 to 31 with the number 32 above would be right, like CC 7+39.`,
    );
  return ok({ kind: 'controller-14', controller });
}

function parseNoteDrive(typed: string, middleC: MiddleC): Parsed {
  const match = /^(?:note\s+)?([a-g][#♯b♭]?-?\d+|(?<=note\s+)\d+)(?:\s+\S+)?$/i.exec(typed);
  if (!match) return null;
  const note = parseNote(nth(match, 1), middleC);
  return note.ok
    ? ok({ kind: 'note', note: note.value })
    : fail(`Note ${nth(match, 1)} is out of range; 0 to 127 would be right.`);
}

function parseProgram(words: string): Parsed {
  const match = /^(?:program(?: change)?|pc)(?: (?:bank )?(\S+))?$/.exec(words);
  if (!match) return null;
  if (match[1] === undefined) return ok({ kind: 'program', bank: null });
  const bank = parsePair(match[1]);
  return bank === null
    ? fail(`“${match[1]}” is no bank; MSB and LSB from 0 to 127 like 1/0 would be right.`)
    : ok({ kind: 'program', bank });
}

function parseParameter(words: string): Parsed {
  const match = /^(n?rpn) (\S+)(?: (7|14)-bit)?$/.exec(words);
  if (!match) return null;
  const parameter = /^\d+$/.test(nth(match, 2)) ? Number(match[2]) : parsePair(nth(match, 2));
  if (parameter === null || parameter > 16382)
    return fail(
      `“${nth(match, 2)}” is no parameter number; MSB and LSB like 2/17, or 0 to 16382, would be right.`,
    );
  return ok({
    kind: 'parameter',
    registered: match[1] === 'rpn',
    parameter,
    bits: match[3] === '14' ? 14 : 7,
  });
}

function parseMachine(words: string): Parsed {
  const match = /^(?:machine|mmc) (.+)$/.exec(words);
  if (!match) return null;
  const track = /^(?:track|arm|arm track) (\d+)$/.exec(nth(match, 1));
  if (track) {
    const number = Number(track[1]);
    return number >= 1 && number <= MAX_TRACK
      ? ok({ kind: 'record-ready', track: number })
      : fail(`Track ${number} is out of range; 1 to ${MAX_TRACK} would be right.`);
  }
  const command = COMMANDS.find((c) => c === nth(match, 1).replaceAll(' ', '-'));
  return command
    ? ok({ kind: 'transport', command })
    : fail(
        `“${nth(match, 1)}” is no machine command; ${COMMANDS.map((c) => c.replaceAll('-', ' ')).join(', ')} or track 3 would be right.`,
      );
}

const pair = (n: number): string => `${n >> 7}/${n & 127}`;

function parsePair(text: string): number | null {
  const match = /^(\d{1,3})\/(\d{1,3})$/.exec(text);
  const [msb, lsb] = match ? [Number(match[1]), Number(match[2])] : [NaN, NaN];
  return msb <= 127 && lsb <= 127 ? (msb << 7) | lsb : null;
}
