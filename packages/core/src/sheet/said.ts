import { loadingIn, type World } from '../engine';
import { rangeShown, shortestName } from '../floor';
import { shownText, shownValue, valueBounds } from '../gear';
import {
  sceneSheet,
  sceneSurround,
  type Cell,
  type SceneControl,
  type SceneSurround,
  type Song,
} from '../show';
import type { CueRow } from './rows';
import { nth } from '../sure';

/** What a scene shows in a line: the words, the scene that set it, and whether that only repeats the value before. */
export type CueCell = {
  readonly text: string;
  /** −1 for the song's own. */
  readonly setIn: number;
  readonly isHeld: boolean;
  /** Does not go on into the next scene: a trigger, a remark. */
  readonly isMoment: boolean;
  /** Another line has written the same register since, so this value no longer holds. */
  readonly isReplaced: boolean;
};

/** What every scene is, made once for a whole sheet. */
export type SheetState = {
  readonly cells: readonly ReadonlyMap<string, Cell>[];
  readonly surrounds: readonly SceneSurround[];
  /** Lines whose value another line has replaced, with the name of that line. */
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
      return { text: cell.note ?? shownText(row.device, row.fn, cell.value), setIn: cell.setIn };
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
      return route ? { text: route.value ? nth(words, 0) : nth(words, 1), setIn: route.setIn } : null;
    }
    case 'control': {
      const control = surrounds[sceneIndex]?.controls.get(row.control.id);
      return control ? { text: controlText(row, control.value), setIn: control.setIn } : null;
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

/** What a control does, as it is typed. */
export const AS_BANK = 'as its bank';

function controlText({ devices }: CueRow & { kind: 'control' }, said: SceneControl): string {
  if (said.kind === 'as-bank') return AS_BANK;
  const found = devices.flatMap((device) =>
    device.chart.flatMap((fn) => (fn.id === said.functionId ? [{ device, fn }] : [])),
  )[0];
  if (!found) return '';
  const { device, fn } = found;
  const name = shortestName(device, fn, { devices });
  const shown = (value: number) => shownValue(device, fn, value);
  switch (said.kind) {
    case 'toggle':
      return name;
    case 'set': {
      const { number, label } = shown(said.value);
      return `${name} ${number || label}`;
    }
    case 'move': {
      const { min, max } = valueBounds(fn.shape);
      const isWhole = said.from === min && said.to === max;
      return isWhole ? name : `${name} ${rangeShown(shown(said.from).number, shown(said.to).number)}`;
    }
  }
}

const armedWords = (row: CueRow & { kind: 'armed' }, ids: readonly string[]): string =>
  row.tracks.flatMap((t) => (ids.includes(t.id) ? t.name : [])).join(', ') || 'none';
