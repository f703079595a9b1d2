import { isPressed, type Control, type Preset } from '../floor';
import type { ChartFunction, Device } from '../gear';
import { layersOf, type FullRig } from '../routing';
import { routeKey, type Song } from '../show';

/** What stands in one line of the cue sheet. */
export type CueRow = { readonly key: string; readonly title: string } & (
  | { readonly kind: 'function'; readonly device: Device; readonly fn: ChartFunction }
  | { readonly kind: 'tempo' }
  | { readonly kind: 'bank'; readonly boardId: string; readonly names: readonly string[] }
  | { readonly kind: 'route'; readonly routeId: string; readonly part: 'route' | 'gate' }
  /** Exactly which tracks are armed. */
  | { readonly kind: 'armed'; readonly tracks: readonly { readonly id: string; readonly name: string }[] }
  /** What a control does in place of what its bank says. */
  | {
      readonly kind: 'control';
      readonly boardId: string;
      readonly control: Control;
      readonly device: Device;
      /** Every device of the rig, whose functions it can move or set. */
      readonly devices: readonly Device[];
    }
  | { readonly kind: 'remark' }
);
/** The line of what a control does. */
const controlKey = (controlId: string): string => `control/${controlId}`;

/** Every line that a song could have, functions in the order of the rig first. */
export function allCueRows(rig: FullRig, presets: readonly Preset[]): CueRow[] {
  const tracks = tracksOf(rig);
  return [
    ...functionRows(rig),
    ...(tracks.length > 0 ? [{ kind: 'armed' as const, key: 'armed', title: 'Armed tracks', tracks }] : []),
    { kind: 'tempo', key: 'tempo', title: 'Song tempo' },
    ...bankRows(rig, presets),
    ...controlRows(rig),
    ...routeRows(rig),
    { kind: 'remark', key: 'remark', title: 'Remark' },
  ];
}

function functionRows(rig: FullRig): CueRow[] {
  const functions = rig.devices.flatMap((device) =>
    device.chart.map((fn): CueRow => ({ kind: 'function', key: fn.id, title: fn.name, device, fn })),
  );
  // A level that is a row of its chart stands there already.
  const levels = layersOf(rig).flatMap(({ route, level }): CueRow[] =>
    level?.fn.id === route.id
      ? [{ kind: 'function', key: route.id, title: `Level of ${route.name}`, ...level }]
      : [],
  );
  return [...functions, ...levels];
}

/** Each track once, by the first row that arms it. */
const tracksOf = (rig: FullRig) =>
  rig.devices.flatMap((device) =>
    device.chart.flatMap((fn, i) =>
      fn.arms !== null && device.chart.findIndex((f) => f.arms === fn.arms) === i
        ? [{ id: fn.id, name: fn.arms }]
        : [],
    ),
  );

const bankRows = (rig: FullRig, presets: readonly Preset[]): CueRow[] =>
  rig.boards.flatMap((board): CueRow[] => {
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

/** A board that plays by its own program is told by its presets alone. */
const controlRows = (rig: FullRig): CueRow[] =>
  rig.boards.flatMap((board): CueRow[] => {
    const device = rig.devices.find((d) => d.id === board.deviceId);
    if (!device || board.mode === 'standalone') return [];
    return board.controls.map((control) => ({
      kind: 'control',
      key: controlKey(control.id),
      title: `${device.name} ${control.name} ${isPressed(control.kind) ? 'does' : 'moves'}`,
      boardId: board.id,
      control,
      device,
      devices: rig.devices,
    }));
  });

const routeRows = (rig: FullRig): CueRow[] =>
  rig.routing.routes.flatMap((route): CueRow[] => [
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

/** Keys of the lines in which a song says something. */
export function usedRows(song: Song): ReadonlySet<string> {
  const used = new Set<string>();
  for (const scene of song.scenes) {
    for (const v of scene.values) used.add(v.functionId);
    for (const b of scene.banks) used.add(`bank/${b.boardId}`);
    for (const r of scene.routes) used.add(routeKey(r.routeId, r.part));
    for (const c of scene.controls) used.add(controlKey(c.controlId));
    if (scene.armedFunctionIds !== null) used.add('armed');
    if (scene.tempoBpm !== null) used.add('tempo');
    if (scene.remark !== '') used.add('remark');
  }
  return used;
}

/** The lines that say something in a song, and those that were just brought in. */
export function cueRows(
  rig: FullRig,
  presets: readonly Preset[],
  song: Song,
  brought: readonly string[],
): CueRow[] {
  const used = new Set([...usedRows(song), ...brought]);
  return allCueRows(rig, presets).filter((row) => used.has(row.key));
}
