import type { Show, World } from '../../engine';
import { actionsOf, isBare, isPressed, PLAIN_ASSIGNMENT, type Preset } from '../../floor';
import type { Mend } from '../../edits';
import { judgeCable } from '../../gear';
import type { FullRig } from '../../routing';
import { mendTo } from '../findings/finding';
import { idFrom } from '../findings/nearest';
import { begunEvening, worldOfFeet } from '../feet/evening';
import { footGraph, type GraphLimits, type SearchProgress } from '../feet/graph';
import { isHeard } from '../feet/press';
import { pressPlan, type PressPlan } from '../plan/pressPlan';

type FullShow = Show & { readonly rig: FullRig };

/** One thing that may fail during the evening. */
export type Breakable = {
  readonly kind: 'device' | 'cable' | 'port' | 'board' | 'pedal';
  readonly id: string;
  /** In words. Example: `the cable from Crossbar Out A to Kelpline In`. */
  readonly name: string;
};

/** What can no longer be played as it is written, and what would bear it. */
export type Break = Breakable & {
  /** Scenes that lose something, with what of them nothing leads to any more. */
  readonly scenes: readonly {
    readonly songIndex: number;
    readonly sceneIndex: number;
    readonly functionIds: readonly string[];
  }[];
  /** Functions that a pedal moved and nothing moves now. */
  readonly unmoved: readonly string[];
  /** Parts that no press leads to any more. */
  readonly openParts: number;
  /** Presses of the whole evening without it; `null` where some part is open. */
  readonly presses: number | null;
  /** The smallest change with which every part can be brought about again, where one was found. */
  readonly mend: Mend | null;
};

/** Everything in the rig that the set uses and that may fail. */
export function breakables({ rig }: FullShow, world: World): Breakable[] {
  const ports = new Map(rig.devices.flatMap((d) => d.ports.map((p) => [p.id, { device: d, port: p }])));
  const nameOf = (id: string) => {
    const at = ports.get(id);
    return at ? `${at.device.name} ${at.port.name}` : 'a port that is gone';
  };
  const boards = new Map(rig.boards.map((b) => [b.deviceId, b]));
  const found: Breakable[] = [];
  for (const device of rig.devices) {
    if (device.away) continue;
    const board = boards.get(device.id);
    if (board) found.push({ kind: 'board', id: board.id, name: device.name });
    else if (device.role !== 'controller') found.push({ kind: 'device', id: device.id, name: device.name });
  }
  for (const { id, fromPortId, toPortId } of rig.cables)
    found.push({ kind: 'cable', id, name: `the cable from ${nameOf(fromPortId)} to ${nameOf(toPortId)}` });
  for (const { port } of ports.values())
    if (port.atComputer) found.push({ kind: 'port', id: port.id, name: `the port ${nameOf(port.id)}` });
  for (const { board, device, preset } of world.boards)
    for (const c of board.controls) {
      const moves = preset?.banks.some((b) =>
        b.assignments.some((a) => a.controlId === c.id && (a.sweeps.length > 0 || actionsOf(a).length > 0)),
      );
      if (!isPressed(c.kind) && moves)
        found.push({ kind: 'pedal', id: c.id, name: `${device.name} ${c.name}` });
    }
  return found;
}

/** The show with one thing taken away. */
function without(show: FullShow, { kind, id }: Breakable): FullShow {
  const { rig } = show;
  switch (kind) {
    case 'device':
      return {
        ...show,
        rig: { ...rig, devices: rig.devices.map((d) => (d.id === id ? { ...d, away: true } : d)) },
      };
    case 'board': {
      const board = rig.boards.find((b) => b.id === id);
      return {
        ...show,
        rig: {
          ...rig,
          devices: rig.devices.map((d) => (d.id === board?.deviceId ? { ...d, away: true } : d)),
          boards: rig.boards.map((b) => (b.id === id ? { ...b, presetId: null } : b)),
        },
      };
    }
    case 'cable':
      return { ...show, rig: { ...rig, cables: rig.cables.filter((c) => c.id !== id) } };
    case 'port':
      return {
        ...show,
        rig: {
          ...rig,
          devices: rig.devices.map((d) => ({ ...d, ports: d.ports.filter((p) => p.id !== id) })),
          cables: rig.cables.filter((c) => c.fromPortId !== id && c.toPortId !== id),
        },
      };
    case 'pedal':
      return {
        ...show,
        presets: show.presets.map((p) => ({
          ...p,
          banks: p.banks.map((b) => ({ ...b, assignments: b.assignments.filter((a) => a.controlId !== id) })),
        })),
      };
  }
}

export type BreaksProgress = {
  readonly done: number;
  readonly of: number;
  readonly search: SearchProgress | null;
};

/**
 * The evening with each thing of the rig taken away in turn. Presses are searched anew only where other boards are
 * heard.
 */
export function* breaksOf(show: FullShow, limits: GraphLimits): Generator<BreaksProgress, readonly Break[]> {
  const world = worldOfFeet(show);
  const things = breakables(show, world);
  const plans = new Map<string, { readonly plan: PressPlan; readonly mend: Mend | null }>();
  const found: Break[] = [];
  for (const [i, thing] of things.entries()) {
    yield { done: i, of: things.length, search: null };
    const less = without(show, thing);
    const lessWorld = worldOfFeet(less);
    const key = heardKey(world, lessWorld, thing);
    let known = plans.get(key);
    if (!known) {
      const plan = yield* plannedFor(lessWorld, limits, i, things.length);
      const mend = plan.open === 0 ? null : yield* mendFor(less, lessWorld, limits, i, things.length);
      known = { plan, mend };
      plans.set(key, known);
    }
    const { plan, mend } = known;
    const { open } = plan;
    const scenes = lostScenes(world, lessWorld);
    found.push({
      ...thing,
      scenes,
      unmoved: thing.kind === 'pedal' ? movedBy(world, thing.id) : [],
      openParts: open,
      presses: open === 0 ? plan.presses : null,
      mend: mend ?? (scenes.length > 0 ? otherCable(show, less, world) : null),
    });
  }
  return found;
}

/** Whether a pedal does something at its ends. */
const hasEnds = ({ boards }: World, id: string): boolean =>
  boards.some(({ preset }) =>
    preset?.banks.some((b) => b.assignments.some((a) => a.controlId === id && actionsOf(a).length > 0)),
  );

/** What feet can do is the same for two rigs in which the same boards are heard and the same pedals are there. */
const heardKey = (before: World, world: World, { kind, id }: Breakable): string =>
  JSON.stringify([
    world.boards.filter((b) => b.preset !== null && isHeard(b)).map((b) => b.board.id),
    kind === 'pedal' && hasEnds(before, id) ? id : null,
  ]);

function* plannedFor(
  world: World,
  limits: GraphLimits,
  done: number,
  of: number,
): Generator<BreaksProgress, PressPlan> {
  const search = footGraph(world, begunEvening(world), limits);
  for (;;) {
    const next = search.next();
    if (next.done) return pressPlan(world, next.value);
    yield { done, of, search: next.value };
  }
}

/** Scenes with functions that were reached and are no more. */
function lostScenes(before: World, after: World): Break['scenes'] {
  return before.songs.flatMap(({ cells }, songIndex) =>
    cells.flatMap((scene, sceneIndex) => {
      const functionIds = [...scene.keys()].filter(
        (id) => before.functions.get(id)?.path && !after.functions.get(id)?.path,
      );
      return functionIds.length > 0 ? [{ songIndex, sceneIndex, functionIds }] : [];
    }),
  );
}

/** Another cable by which everything is reached again: from an output that is free to an input of what was lost. */
function otherCable(show: FullShow, less: FullShow, before: World): Mend | null {
  const { rig } = less;
  const taken = new Set(rig.cables.flatMap((c) => [c.fromPortId, c.toPortId]));
  const free = rig.devices
    .filter((d) => !d.away)
    .flatMap((device) => device.ports.filter((p) => !taken.has(p.id)).map((port) => ({ device, port })));
  for (const from of free)
    for (const to of free) {
      if (from.port.direction === 'in' || to.port.direction !== 'in' || to.device.role !== 'receiver')
        continue;
      if (judgeCable(rig, from.port.id, to.port.id).length > 0) continue;
      // The same cable once more is a spare, and no change of the rig.
      if (show.rig.cables.some((c) => c.fromPortId === from.port.id && c.toPortId === to.port.id)) continue;
      const cable = {
        id: idFrom(`${from.port.id} ${to.port.id}`),
        fromPortId: from.port.id,
        toPortId: to.port.id,
      };
      const after = worldOfFeet({ ...less, rig: { ...rig, cables: [...rig.cables, cable] } });
      if (lostScenes(before, after).length > 0) continue;
      // It lies ready beside the one that may break; where both ends take one cable only, it takes its place.
      const stays = show.rig.cables.filter(
        (c) => c.toPortId !== cable.toPortId && c.fromPortId !== cable.fromPortId,
      );
      return mendTo(
        `Cable ${to.device.name} ${to.port.name} to ${from.device.name} ${from.port.name}`,
        'rig',
        show.rig,
        { ...show.rig, cables: [...stays, cable] },
      );
    }
  return null;
}

const movedBy = ({ boards }: World, controlId: string): string[] => [
  ...new Set(
    boards.flatMap(({ preset }) =>
      (preset?.banks ?? []).flatMap((b) =>
        b.assignments.flatMap((a) =>
          a.controlId === controlId ? a.sweeps.flatMap((s) => s.functionId ?? []) : [],
        ),
      ),
    ),
  ),
];

/** Changes that are tried at the most. */
const TRIED = 6;

/** Going on by foot, on a free switch of a board that is still heard, or on holding one that is not free. */
function* mendFor(
  show: FullShow,
  world: World,
  limits: GraphLimits,
  done: number,
  of: number,
): Generator<BreaksProgress, Mend | null> {
  let tried = 0;
  for (const { board, device, preset } of world.boards.filter((b) => isHeard(b) && b.preset !== null)) {
    if (!preset) continue;
    for (const { name, next } of goingOn(preset, board.controls)) {
      if (tried++ >= TRIED) return null;
      const plan = yield* plannedFor(
        worldOfFeet({ ...show, presets: show.presets.map((p) => (p.id === preset.id ? next : p)) }),
        limits,
        done,
        of,
      );
      if (plan.open === 0) return mendTo(`Put Next on ${name} of ${device.name}`, 'preset', preset, next);
    }
  }
  return null;
}

/** The preset with Next on one of its switches in every bank, free ones first. */
function* goingOn(
  preset: Preset,
  controls: readonly {
    readonly id: string;
    readonly name: string;
    readonly kind: Parameters<typeof isPressed>[0];
  }[],
): Generator<{ readonly name: string; readonly next: Preset }> {
  const switches = controls.filter((c) => isPressed(c.kind));
  const isFree = (id: string) =>
    preset.banks.every((b) => b.assignments.every((a) => a.controlId !== id || isBare(a)));
  const isHoldFree = (id: string) =>
    preset.banks.every((b) => b.assignments.every((a) => a.controlId !== id || a.hold.length === 0));
  for (const c of switches.filter((s) => isFree(s.id)))
    yield { name: c.name, next: withNext(preset, c.id, 'press') };
  for (const c of switches.filter((s) => !isFree(s.id) && isHoldFree(s.id)))
    yield { name: `a hold of ${c.name}`, next: withNext(preset, c.id, 'hold') };
}

function withNext(preset: Preset, controlId: string, list: 'press' | 'hold'): Preset {
  return {
    ...preset,
    banks: preset.banks.map((bank) => {
      const before = bank.assignments.find((a) => a.controlId === controlId) ?? {
        ...PLAIN_ASSIGNMENT,
        controlId,
      };
      const next = {
        ...before,
        [list]: [
          ...before[list],
          { id: idFrom(`${bank.id} ${controlId} next`), kind: 'scene', to: { kind: 'next' } } as const,
        ],
      };
      return { ...bank, assignments: [...bank.assignments.filter((a) => a.controlId !== controlId), next] };
    }),
  };
}
