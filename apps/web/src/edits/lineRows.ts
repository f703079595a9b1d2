import { type Song, partsOf, routeKey, sceneSurround, type SongLine } from '@idle-step/core/show';
import type { FullRig, Layer, Route } from '@idle-step/core/routing';
import type { World } from '@idle-step/core/engine';
import { valueBounds, type ChartFunction, type Device } from '@idle-step/core/gear';
import { noteName } from '@idle-step/core/midi';
import type { PlayedSend } from '@idle-step/core/songFile';

/** A function that moves along the song, as steps of beat and share of its range (0–1). */
export type GlideRow = {
  readonly device: Device;
  readonly fn: ChartFunction;
  readonly points: readonly { readonly beat: number; readonly share: number }[];
};

/** Functions drawn at the most: those that move most often come first. */
export const GLIDE_ROWS = 6;

/** A function that moves along the song, by its id. */
export type GlidePoints = { readonly functionId: string; readonly points: GlideRow['points'] };

/** Ranges that move along a song, as they are told when it is played. */
export function glidePoints(world: World, sends: readonly PlayedSend[]): readonly GlidePoints[] {
  const rows = new Map<string, { beat: number; share: number }[]>();
  for (const { functionId, value, atBeat } of sends) {
    const reached = world.functions.get(functionId ?? '');
    if (functionId === null || value === null || reached?.fn.shape.kind !== 'range') continue;
    const { min, max } = valueBounds(reached.fn.shape);
    const points = rows.get(functionId) ?? [];
    rows.set(functionId, points);
    points.push({ beat: atBeat, share: max > min ? (value - min) / (max - min) : 0 });
  }
  const order = [...world.functions.keys()];
  return [...rows]
    .filter(([, points]) => points.length > 1)
    .sort(([, a], [, b]) => b.length - a.length)
    .slice(0, GLIDE_ROWS)
    .sort(([a], [b]) => order.indexOf(a) - order.indexOf(b))
    .map(([functionId, points]) => ({ functionId, points }));
}

/** The same with what they are; those that are gone meanwhile are left out. */
export const glideRows = (world: World, rows: readonly GlidePoints[]): readonly GlideRow[] =>
  rows.flatMap(({ functionId, points }) => {
    const reached = world.functions.get(functionId);
    return reached ? { ...reached, points } : [];
  });

/** Where a layer sounds in a song: from beat to beat. */
export type LayerRow = {
  readonly layer: Layer;
  readonly spans: readonly { readonly from: number; readonly to: number }[];
};

/** The layers that a song switches, with the stretches in which they are on. */
export function layerRows(world: World, song: Song, line: SongLine): readonly LayerRow[] {
  const used = layersUsed(song);
  const surrounds = new Map(song.scenes.map((s, i) => [s.id, sceneSurround(song, i)]));
  return world.layers
    .filter((layer) => used.has(layer.route.id))
    .map((layer) => {
      const spans: { from: number; to: number }[] = [];
      for (const { part, atBeat, beats } of line.parts) {
        if (atBeat === null || beats === null) continue;
        const said = surrounds.get(part.sceneId)?.routes.get(routeKey(layer.route.id, 'route'));
        if (!(said?.value ?? layer.route.isOn)) continue;
        const last = spans.at(-1);
        if (last && Math.abs(last.to - atBeat) < 1e-6) last.to = atBeat + beats;
        else spans.push({ from: atBeat, to: atBeat + beats });
      }
      return { layer, spans };
    });
}

/** Routes that some scene of a song switches. */
export const layersUsed = (song: Song): ReadonlySet<string> =>
  new Set(song.scenes.flatMap((s) => s.routes.flatMap((r) => (r.part === 'route' ? r.routeId : []))));

/** Example: `keys C3 to B3, up 12`. */
export function rangeWords(
  { from, change }: Pick<Route, 'from' | 'change'>,
  middleC: FullRig['middleC'],
): string {
  const span = from.numbers[0];
  const keys = !span
    ? 'all keys'
    : span.from === 0
      ? `keys up to ${noteName(span.to, middleC)}`
      : span.to === 127
        ? `keys from ${noteName(span.from, middleC)}`
        : `keys ${noteName(span.from, middleC)} to ${noteName(span.to, middleC)}`;
  const { transpose } = change;
  return transpose === 0 ? keys : `${keys}, ${transpose > 0 ? 'up' : 'down'} ${Math.abs(transpose)}`;
}

/** What a foot does to come into each part: the control that goes to its scene, or the one that goes on. */
export function feetOf(world: World, song: Song): readonly (string | null)[] {
  const named = new Map<number, string>();
  let next: string | null = null;
  for (const { banks, groups, board } of world.boards)
    for (const page of [...banks, ...groups.flatMap((g) => g.pages)])
      for (const [controlId, { press }] of page.assignments)
        for (const action of press) {
          if (action.kind !== 'scene' || action.isOff) continue;
          const name = board.controls.find((c) => c.id === controlId)?.name ?? '';
          if (action.to.kind === 'at' && !named.has(action.to.index)) named.set(action.to.index, name);
          if (action.to.kind === 'next') next ??= name;
        }
  return partsOf(song).map((part) => named.get(song.scenes.findIndex((s) => s.id === part.sceneId)) ?? next);
}
