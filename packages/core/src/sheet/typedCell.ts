import { isPressed, readActionCell, readSweepCell, shortestName, type CellContext } from '../floor';
import { expectedText, isUsable, namesOf, parseShown, shownText } from '../gear';
import {
  followsTempo,
  noteMs,
  readNoteLength,
  sceneSurround,
  valueOfNote,
  type NoteLength,
  type Scene,
  type SceneControl,
  type Song,
} from '../show';
import { AS_BANK } from './said';
import { findName, readNumber, readWhole } from '../typed';
import type { CueRow } from './rows';
import { mapScene, withoutValue, withValue } from './sceneEdits';
import { nth } from '../sure';

const onlyPlace = (found: ReturnType<typeof findName>): number => (typeof found === 'number' ? found : -1);

/** The place of a bank by its number from 1, by its name or a part of that, or by both as they are shown. */
function placeTyped(names: readonly string[], text: string): number | null {
  const [first, ...behind] = text.trim().split(/\s+/);
  const number = readWhole(first ?? '');
  if (number !== null && number >= 1 && number <= names.length) {
    const name = nth(names, number - 1)
      .trim()
      .toLowerCase()
      .replace(/\s+/g, ' ');
    if (behind.length === 0 || behind.join(' ').toLowerCase() === name) return number - 1;
  }
  const found = onlyPlace(findName(names, text));
  return found < 0 ? null : found;
}

/** Note lengths that are offered; any other may be typed. */
const NOTES_OFFERED: readonly string[] = ['1/2', '1/4', '1/4t', '1/8', '1/8.', '1/8t', '1/16'];

/** What may be typed into a cell of a line: its values by number and name; none where they are too many to name. */
export function typedValues(row: CueRow): readonly string[] {
  switch (row.kind) {
    case 'function': {
      const { device, fn } = row;
      if (fn.shape.kind === 'switch') return ['on', 'off'];
      if (followsTempo(fn)) return NOTES_OFFERED;
      return namesOf(fn)
        .filter((n) => n.name !== '')
        .map((n) => shownText(device, fn, n.value));
    }
    case 'bank':
      return row.names.map((name, i) => `${i + 1} ${name}`.trim());
    case 'route':
      return row.part === 'gate' ? ['open', 'closed'] : ['on', 'off'];
    case 'control':
      return controlOffers(row);
    case 'armed':
      return [...row.tracks.map((t) => t.name), 'none'];
    default:
      return [];
  }
}

type ControlRow = CueRow & { kind: 'control' };

const isMoved = ({ control }: ControlRow): boolean => !isPressed(control.kind);

/** Functions that a control could move, or set by a press, and that it does what its bank says. */
const controlOffers = (row: ControlRow): string[] => [
  ...row.devices.flatMap((device) =>
    device.chart
      .filter((fn) => isUsable(device, fn))
      .filter((fn) => (isMoved(row) ? fn.shape.kind === 'range' : fn.shape.kind === 'switch'))
      .map((fn) => shortestName(device, fn, row)),
  ),
  AS_BANK,
];

/** What is typed for a control, or what would be right. */
function readControl(row: ControlRow, text: string): SceneControl | string {
  const { boardId, devices } = row;
  const of = { boardId, controlId: row.control.id };
  if (/^(as )?(its |the )?bank$/i.test(text.trim())) return { ...of, kind: 'as-bank' };
  const fallback = { send: 'controller', number: 0, value: 0, channel: null, deviceId: null } as const;
  const context: CellContext = { devices, middleC: 3, fallback, banks: [] };
  const right = `a function like ${controlOffers(row)[0] ?? 'Volume'}, or “${AS_BANK}”,`;
  if (isMoved(row)) {
    const sweep = readSweepCell(text, context);
    if (!sweep.ok || !sweep.value || sweep.value.functionId === null) return right;
    const { functionId, from, to } = sweep.value;
    return { ...of, kind: 'move', functionId, from, to };
  }
  const action = readActionCell(text, context);
  if (!action.ok || !action.value) return right;
  if (action.value.kind === 'toggle') return { ...of, kind: 'toggle', functionId: action.value.functionId };
  if (action.value.kind === 'set')
    return { ...of, kind: 'set', functionId: action.value.functionId, value: action.value.value };
  return right;
}

/** Whether what is typed leaves it to the scene before. */
const isBare = (text: string): boolean => ['', '-', '–', '—'].includes(text.trim());

/**
 * A song with a cell as it was typed: a value in the numbering that people see, a name, on or off; nothing or a dash
 * carries it over. Refused: a sentence that says what would be right.
 */
export function withTyped(song: Song, row: CueRow, sceneIndex: number, text: string): Song | string {
  const scene = song.scenes[sceneIndex];
  if (!scene) return 'There is no such scene.';
  if (isBare(text)) return withoutCell(song, row, sceneIndex);
  const change = (to: (scene: Scene) => Scene) => mapScene(song, scene.id, to);
  const refuse = (expected: string) =>
    `“${text.trim()}” is not a value of ${row.title}; ${expected} would be right.`;
  switch (row.kind) {
    case 'function': {
      const note = followsTempo(row.fn) ? readNoteLength(text) : null;
      if (note !== null) return withNote(song, row, sceneIndex, note);
      const result = parseShown(row.device, row.fn, text);
      return result.ok ? withValue(song, scene.id, row.fn.id, result.value) : refuse(result.error.expected);
    }
    case 'tempo': {
      const bpm = readNumber(text.trim().replace(/\s*bpm$/i, ''));
      return bpm !== null && bpm >= 20 && bpm <= 400
        ? change((s) => ({ ...s, tempoBpm: bpm }))
        : refuse('20 to 400 bpm');
    }
    case 'bank': {
      const index = placeTyped(row.names, text);
      if (index === null) return refuse(`1 to ${row.names.length}, or a bank's name,`);
      const { boardId } = row;
      return change((s) => ({
        ...s,
        banks: withOne(s.banks, { boardId, index }, (b) => b.boardId === boardId),
      }));
    }
    case 'route': {
      const on = SAYS_ON.test(text.trim()) ? true : SAYS_OFF.test(text.trim()) ? false : null;
      if (on === null) return refuse(row.part === 'gate' ? 'open or closed' : 'on or off');
      const { routeId, part } = row;
      return change((s) => ({
        ...s,
        routes: withOne(s.routes, { routeId, part, on }, (r) => r.routeId === routeId && r.part === part),
      }));
    }
    case 'control': {
      const control = readControl(row, text);
      if (typeof control === 'string') return refuse(control);
      return change((s) => ({
        ...s,
        controls: withOne(s.controls, control, (c) => c.controlId === row.control.id),
      }));
    }
    case 'armed': {
      const armedFunctionIds = readTracks(row, text);
      return typeof armedFunctionIds === 'string'
        ? armedFunctionIds
        : change((s) => ({ ...s, armedFunctionIds }));
    }
    case 'remark':
      return text.trim().length > 400
        ? 'A remark has up to 400 characters.'
        : change((s) => ({ ...s, remark: text.trim() }));
  }
}

/** The functions that arm the tracks that are named, with commas between; or why they do not. */
function readTracks({ tracks }: CueRow & { kind: 'armed' }, text: string): string[] | string {
  const typed = text.split(/[,;]/).map((t) => t.trim());
  const names = /^(none|nothing)$/i.test(text.trim()) ? [] : typed.filter(Boolean);
  const all = tracks.map((t) => t.name);
  const ids = names.map((n) => tracks[onlyPlace(findName(all, n))]?.id);
  const wrong = names[ids.indexOf(undefined)];
  if (wrong !== undefined) return `“${wrong}” is no track; ${all.join(', ')} or none would be right.`;
  return [...new Set(ids.flatMap((id) => id ?? []))];
}

/** A cell that follows the tempo as a note length. */
function withNote(
  song: Song,
  { device, fn }: CueRow & { kind: 'function' },
  sceneIndex: number,
  note: NoteLength,
): Song | string {
  const bpm = sceneSurround(song, sceneIndex).tempo?.value ?? song.tempoBpm;
  const value = valueOfNote(fn, note, bpm);
  return value === null
    ? `${note} is ${Math.round(noteMs(note, bpm))} ms at ${bpm} bpm, and ${fn.name} takes ${expectedText(device, fn)}.`
    : withValue(song, nth(song.scenes, sceneIndex).id, fn.id, value, note);
}

/** A list with one thing in the place of what is the same, or behind the others. */
const withOne = <T>(list: readonly T[], one: T, isSame: (other: T) => boolean): readonly T[] => {
  const at = list.findIndex(isSame);
  return at < 0 ? [...list, one] : list.with(at, one);
};

const SAYS_ON = /^(on|open|yes|1)$/i;
const SAYS_OFF = /^(off|closed|no|0)$/i;

/** The scene says nothing in this line any more. */
export function withoutCell(song: Song, row: CueRow, sceneIndex: number): Song {
  const sceneId = nth(song.scenes, sceneIndex).id;
  switch (row.kind) {
    case 'function':
      return withoutValue(song, sceneId, row.fn.id);
    case 'tempo':
      return mapScene(song, sceneId, (s) => ({ ...s, tempoBpm: null }));
    case 'bank':
      return mapScene(song, sceneId, (s) => ({
        ...s,
        banks: s.banks.filter((b) => b.boardId !== row.boardId),
      }));
    case 'route':
      return mapScene(song, sceneId, (s) => ({
        ...s,
        routes: s.routes.filter((r) => r.routeId !== row.routeId || r.part !== row.part),
      }));
    case 'control':
      return mapScene(song, sceneId, (s) => ({
        ...s,
        controls: s.controls.filter((c) => c.controlId !== row.control.id),
      }));
    case 'armed':
      return mapScene(song, sceneId, (s) => ({ ...s, armedFunctionIds: null }));
    case 'remark':
      return mapScene(song, sceneId, (s) => ({ ...s, remark: '' }));
  }
}
