import {
  type Song,
  type Scene,
  routeKey,
  sceneSheet,
  sceneSurround,
  type Cell,
  type SceneSurround,
} from '@idle-step/core/show';
import { type FullRig, layersOf } from '@idle-step/core/routing';
import type { Preset } from '@idle-step/core/floor';
import { copiedText, pastedCells } from '@idle-step/core/formats';
import { findName, readNumber, readWhole } from '@idle-step/core/typed';

import { loadingIn, type World } from '@idle-step/core/engine';
import { namesOf, parseShown, shownText, type ChartFunction, type Device } from '@idle-step/core/gear';
import { mapScene, withoutValue, withValue } from './songEdits';

/** What stands in one line of the cue sheet. */
export type CueRow = { readonly key: string; readonly title: string } & (
  | { readonly kind: 'function'; readonly device: Device; readonly fn: ChartFunction }
  | { readonly kind: 'tempo' }
  | { readonly kind: 'bank'; readonly boardId: string; readonly names: readonly string[] }
  | { readonly kind: 'route'; readonly routeId: string; readonly part: 'route' | 'gate' }
  /** Exactly which tracks are armed. */
  | { readonly kind: 'armed'; readonly tracks: readonly { readonly id: string; readonly name: string }[] }
  | { readonly kind: 'remark' }
);

/** What a scene says in a line: its words, the scene that set it, and whether it is set to what it is anyway. */
export type CueCell = {
  readonly text: string;
  /** −1 for the song's own. */
  readonly setIn: number;
  readonly isHeld: boolean;
  /** Does not go on into the next scene: a trigger, a remark. */
  readonly isMoment: boolean;
  /** Another line that writes the same in the device has taken its place: it holds no more. */
  readonly isReplaced: boolean;
};

/** What every scene is, made once for a whole sheet. */
export type SheetState = {
  readonly cells: readonly ReadonlyMap<string, Cell>[];
  readonly surrounds: readonly SceneSurround[];
  /** Lines that another one has taken the place of, with the name of that one. */
  readonly replaced: readonly ReadonlyMap<string, { readonly by: string; readonly setIn: number }>[];
  /** Devices that load a program in each scene, so that what glides there is set at once after it. */
  readonly loading: readonly ReadonlySet<string>[];
};

export function sheetState(song: Song, world: World): SheetState {
  const sheets = song.scenes.map((_, i) => sceneSheet(song, i, world.carrying));
  const nameOf = (id: string) => world.functions.get(id)?.fn.name ?? 'another line';
  return {
    cells: sheets.map((s) => s.cells),
    surrounds: song.scenes.map((_, i) => sceneSurround(song, i)),
    replaced: sheets.map(
      ({ replaced }) => new Map([...replaced].map(([id, { by, setIn }]) => [id, { by: nameOf(by), setIn }])),
    ),
    loading: song.scenes.map((_, i) => loadingIn(world, song, i)),
  };
}

/** Every line that a song could have, functions in the order of the rig first. */
export function allCueRows(rig: FullRig, presets: readonly Preset[]): CueRow[] {
  const functions = rig.devices.flatMap((device) =>
    device.chart.map((fn): CueRow => ({ kind: 'function', key: fn.id, title: fn.name, device, fn })),
  );
  // A level that is a row of its chart stands there already.
  const levels = layersOf(rig).flatMap(({ route, level }): CueRow[] =>
    level?.fn.id === route.id
      ? [{ kind: 'function', key: route.id, title: `Level of ${route.name}`, ...level }]
      : [],
  );
  const tracks = rig.devices.flatMap((device) =>
    device.chart.flatMap((fn, i) =>
      fn.arms !== null && device.chart.findIndex((f) => f.arms === fn.arms) === i
        ? [{ id: fn.id, name: fn.arms }]
        : [],
    ),
  );
  const banks = rig.boards.flatMap((board): CueRow[] => {
    const names = presets.find((p) => p.id === board.presetId)?.banks.map((b) => b.name) ?? [];
    const device = rig.devices.find((d) => d.id === board.deviceId);
    return names.length < 2 || !device
      ? []
      : [
          {
            kind: 'bank',
            key: `bank/${board.id}`,
            title: `Bank of ${device.name}`,
            boardId: board.id,
            names,
          },
        ];
  });
  const routes = rig.routing.routes.flatMap((route): CueRow[] => [
    {
      kind: 'route',
      key: routeKey(route.id, 'route'),
      title: `${route.isLayer ? 'Layer' : 'Route'} ${route.name}`,
      routeId: route.id,
      part: 'route',
    },
    ...(route.gate
      ? [
          {
            kind: 'route' as const,
            key: routeKey(route.id, 'gate'),
            title: `Gate of ${route.name}`,
            routeId: route.id,
            part: 'gate' as const,
          },
        ]
      : []),
  ]);
  return [
    ...functions,
    ...levels,
    ...(tracks.length > 0 ? [{ kind: 'armed' as const, key: 'armed', title: 'Armed tracks', tracks }] : []),
    { kind: 'tempo', key: 'tempo', title: 'Song tempo' },
    ...banks,
    ...routes,
    { kind: 'remark', key: 'remark', title: 'Remark' },
  ];
}

/** The lines that say something in a song, and those that were just brought in. */
export function cueRows(
  rig: FullRig,
  presets: readonly Preset[],
  song: Song,
  brought: readonly string[],
): CueRow[] {
  const used = new Set(brought);
  for (const scene of song.scenes) {
    for (const v of scene.values) used.add(v.functionId);
    for (const b of scene.banks) used.add(`bank/${b.boardId}`);
    for (const r of scene.routes) used.add(routeKey(r.routeId, r.part));
    if (scene.armedFunctionIds !== null) used.add('armed');
    if (scene.tempoBpm !== null) used.add('tempo');
    if (scene.remark !== '') used.add('remark');
  }
  return allCueRows(rig, presets).filter((row) => used.has(row.key));
}

/** What a scene says in a line; `null` where neither it nor one to its left says anything. */
export function cueCell(row: CueRow, song: Song, sheet: SheetState, sceneIndex: number): CueCell | null {
  const said = saidAt(row, song, sheet, sceneIndex);
  if (!said) return null;
  const before = sceneIndex > 0 ? saidAt(row, song, sheet, sceneIndex - 1) : null;
  const isMoment = row.kind === 'remark' || (row.kind === 'function' && row.fn.shape.kind === 'trigger');
  return {
    ...said,
    isMoment,
    isHeld: !isMoment && said.setIn === sceneIndex && before?.text === said.text,
    isReplaced: said.isReplaced ?? false,
  };
}

function saidAt(
  row: CueRow,
  song: Song,
  { cells, surrounds, replaced }: SheetState,
  sceneIndex: number,
): { text: string; setIn: number; isReplaced?: boolean } | null {
  switch (row.kind) {
    case 'function': {
      const cell = cells[sceneIndex]?.get(row.fn.id);
      const other = replaced[sceneIndex]?.get(row.fn.id);
      if (other) return { text: `now ${other.by}`, setIn: other.setIn, isReplaced: true };
      // A trigger stands in its own scene only.
      if (!cell || (row.fn.shape.kind === 'trigger' && cell.setIn !== sceneIndex)) return null;
      return { text: shownText(row.device, row.fn, cell.value), setIn: cell.setIn };
    }
    case 'tempo': {
      const tempo = surrounds[sceneIndex]?.tempo;
      return tempo ? { text: `${tempo.value}`, setIn: tempo.setIn } : null;
    }
    case 'bank': {
      const bank = surrounds[sceneIndex]?.banks.get(row.boardId);
      return bank
        ? { text: `${bank.value + 1} ${row.names[bank.value] ?? ''}`.trim(), setIn: bank.setIn }
        : null;
    }
    case 'route': {
      const route = surrounds[sceneIndex]?.routes.get(row.key);
      const words = row.part === 'gate' ? ['open', 'closed'] : ['on', 'off'];
      return route ? { text: route.value ? words[0]! : words[1]!, setIn: route.setIn } : null;
    }
    case 'armed': {
      const setIn = song.scenes.findLastIndex((s, i) => i <= sceneIndex && s.armedFunctionIds !== null);
      const ids = song.scenes[setIn]?.armedFunctionIds;
      return ids ? { text: armedWords(row, ids), setIn } : null;
    }
    case 'remark': {
      const remark = song.scenes[sceneIndex]?.remark ?? '';
      return remark ? { text: remark, setIn: sceneIndex } : null;
    }
  }
}

const armedWords = (row: CueRow & { kind: 'armed' }, ids: readonly string[]): string =>
  row.tracks.flatMap((t) => (ids.includes(t.id) ? t.name : [])).join(', ') || 'none';

const onlyPlace = (found: ReturnType<typeof findName>): number => (typeof found === 'number' ? found : -1);

/** The place of a bank by its number from 1, by its name or a part of that, or by both as they are shown. */
function placeTyped(names: readonly string[], text: string): number | null {
  const [first, ...behind] = text.trim().split(/\s+/);
  const number = readWhole(first ?? '');
  if (number !== null && number >= 1 && number <= names.length) {
    const name = names[number - 1]!.trim().toLowerCase().replace(/\s+/g, ' ');
    if (behind.length === 0 || behind.join(' ').toLowerCase() === name) return number - 1;
  }
  const found = onlyPlace(findName(names, text));
  return found < 0 ? null : found;
}

/** What may be typed into a cell of a line: its values by number and name; none where they are too many to name. */
export function typedValues(row: CueRow): readonly string[] {
  switch (row.kind) {
    case 'function': {
      const { device, fn } = row;
      if (fn.shape.kind === 'switch') return ['on', 'off'];
      return namesOf(fn)
        .filter((n) => n.name !== '')
        .map((n) => shownText(device, fn, n.value));
    }
    case 'bank':
      return row.names.map((name, i) => `${i + 1} ${name}`.trim());
    case 'route':
      return row.part === 'gate' ? ['open', 'closed'] : ['on', 'off'];
    case 'armed':
      return [...row.tracks.map((t) => t.name), 'none'];
    default:
      return [];
  }
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
        banks: [...s.banks.filter((b) => b.boardId !== boardId), { boardId, index }],
      }));
    }
    case 'route': {
      const on = SAYS_ON.test(text.trim()) ? true : SAYS_OFF.test(text.trim()) ? false : null;
      if (on === null) return refuse(row.part === 'gate' ? 'open or closed' : 'on or off');
      const { routeId, part } = row;
      return change((s) => ({
        ...s,
        routes: [...s.routes.filter((r) => r.routeId !== routeId || r.part !== part), { routeId, part, on }],
      }));
    }
    case 'armed': {
      const typed = text.split(/[,;]/).map((t) => t.trim());
      const names = /^(none|nothing)$/i.test(text.trim()) ? [] : typed.filter(Boolean);
      const all = row.tracks.map((t) => t.name);
      const ids = names.map((n) => row.tracks[onlyPlace(findName(all, n))]?.id);
      const wrong = names[ids.indexOf(undefined)];
      if (wrong !== undefined)
        return `“${wrong}” is no track; ${row.tracks.map((t) => t.name).join(', ')} or none would be right.`;
      const armedFunctionIds = [...new Set(ids.flatMap((id) => id ?? []))];
      return change((s) => ({ ...s, armedFunctionIds }));
    }
    case 'remark':
      return text.trim().length > 400
        ? 'A remark has up to 400 characters.'
        : change((s) => ({ ...s, remark: text.trim() }));
  }
}

const SAYS_ON = /^(on|open|yes|1)$/i;
const SAYS_OFF = /^(off|closed|no|0)$/i;

/** The scene says nothing in this line any more. */
export function withoutCell(song: Song, row: CueRow, sceneIndex: number): Song {
  const sceneId = song.scenes[sceneIndex]!.id;
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
    case 'armed':
      return mapScene(song, sceneId, (s) => ({ ...s, armedFunctionIds: null }));
    case 'remark':
      return mapScene(song, sceneId, (s) => ({ ...s, remark: '' }));
  }
}

/** Lines and scenes, from 0, both ends included. */
export type CueRange = {
  readonly top: number;
  readonly bottom: number;
  readonly left: number;
  readonly right: number;
};

/** What the scenes of a range set, as a spreadsheet takes it; what is carried is empty. */
export const copiedCells = (
  song: Song,
  rows: readonly CueRow[],
  sheet: SheetState,
  range: CueRange,
): string =>
  copiedText(
    rows.slice(range.top, range.bottom + 1).map((row) =>
      Array.from({ length: range.right - range.left + 1 }, (_, i) => {
        const cell = cueCell(row, song, sheet, range.left + i);
        return cell?.setIn === range.left + i && !cell.isReplaced ? cell.text : '';
      }),
    ),
  );

/** A range in which no scene says anything of its own any more. */
export function withoutCells(song: Song, rows: readonly CueRow[], range: CueRange): Song {
  let next = song;
  for (const row of rows.slice(range.top, range.bottom + 1))
    for (let i = range.left; i <= range.right; i++) next = withoutCell(next, row, i);
  return next;
}

/**
 * Cells from a spreadsheet or from here, from the corner of the range on; a single one fills the whole range. Taken whole
 * or not at all: a sentence says which cell is wrong.
 */
export function withPasted(
  song: Song,
  rows: readonly CueRow[],
  range: CueRange,
  text: string,
): { readonly song: Song; readonly range: CueRange } | string {
  const lines = pastedCells(text);
  if (!lines) return 'A quotation mark in what was copied is not closed; copy the cells again.';
  const single = lines.length === 1 && lines[0]!.length === 1;
  const height = single ? range.bottom - range.top + 1 : lines.length;
  const width = single ? range.right - range.left + 1 : Math.max(...lines.map((l) => l.length));
  if (range.top + height > rows.length || range.left + width > song.scenes.length)
    return `${height} × ${width} cells do not fit here: below and to the right there are ${rows.length - range.top} × ${song.scenes.length - range.left}.`;
  let next = song;
  for (let r = 0; r < height; r++)
    for (let c = 0; c < width; c++) {
      const row = rows[range.top + r]!;
      const typed = single ? lines[0]![0]! : (lines[r]![c] ?? '');
      const result = withTyped(next, row, range.left + c, typed);
      if (typeof result === 'string') return `${song.scenes[range.left + c]!.name}: ${result}`;
      next = result;
    }
  return {
    song: next,
    range: { ...range, bottom: range.top + height - 1, right: range.left + width - 1 },
  };
}

/** What the leftmost scene of a range is, set in all of its scenes. */
export function withFilledRight(
  song: Song,
  rows: readonly CueRow[],
  sheet: SheetState,
  range: CueRange,
): Song {
  let next = song;
  for (const row of rows.slice(range.top, range.bottom + 1)) {
    const text = cueCell(row, song, sheet, range.left)?.text ?? '';
    for (let i = range.left + 1; i <= range.right; i++) {
      const result = withTyped(next, row, i, text);
      if (typeof result !== 'string') next = result;
    }
  }
  return next;
}
