import { compileWorld, type LiveState, type Show, type World } from '../../engine';
import type { Action } from '../../floor';
import { PLAIN_SCENE, PLAIN_SONG, type Song } from '../../show';
import { nth } from '../../sure';
import {
  assign,
  cable,
  makeBoard,
  makeDevice,
  makeFunction,
  makePort,
  makeRig,
} from '../../testing.test-support';
import { begunEvening } from './evening';
import { pressed, pressesAt, type FootPress } from './press';
import { standsOtherwise } from './stands';

type Loose = Action extends infer A ? (A extends { id: string } ? Omit<A, 'id'> : never) : never;

/**
 * Boards of three switches in one or two banks, two songs of two or three scenes, two effects: all by chance.
 * @param boards one, or two that are heard by ports of their own.
 */
export function randomEvening(random: () => number, boards: 1 | 2 = 1): { show: Show; world: World } {
  const upTo = (n: number) => Math.floor(random() * n);
  const one = <T>(list: readonly T[]): T => nth(list, upTo(list.length));
  const effects = ['a', 'b'].map((name, i) =>
    makeFunction({
      id: name,
      name,
      drive: { kind: 'controller', controller: 20 + i },
      shape: { kind: 'switch', off: 0, on: 127 },
    }),
  );
  const input = makePort({ id: 'fx-in' });
  const output = makePort({ id: 'computer-out', direction: 'out', atComputer: true });
  const fx = makeDevice({ id: 'fx', channel: 2, ports: [input], chart: effects });
  const computer = makeDevice({ id: 'computer', role: 'carrier', ports: [output] });
  const songs = Array.from({ length: 1 + upTo(2) }, (_, s): Song => {
    const scenes = Array.from({ length: 2 + upTo(2) }, (_x, i) => ({
      ...PLAIN_SCENE,
      id: `scene-${s}-${i}`,
      name: `Scene ${i + 1}`,
      values: effects.flatMap((fn) =>
        random() < 0.6 ? { functionId: fn.id, value: upTo(2), way: null } : [],
      ),
    }));
    const order = random() < 0.5 ? [] : Array.from({ length: 2 + upTo(2) }, () => one(scenes));
    return {
      ...PLAIN_SONG,
      id: `song-${s}`,
      rigId: 'rig',
      name: `Song ${s + 1}`,
      tempoBpm: 100,
      beatsPerBar: 4,
      lengthS: 100,
      scenes,
      parts: order.map((scene, i) => ({
        id: `part-${s}-${i}`,
        sceneId: scene.id,
        name: '',
        remark: '',
        length: random() < 0.8 ? { amount: 0.2 + random() * 1.2, unit: 's' } : null,
      })),
    };
  });
  const action = (): Loose =>
    one<() => Loose>([
      () => ({ kind: 'scene', to: { kind: one(['next', 'previous', 'again']) } }),
      () => ({ kind: 'scene', to: { kind: 'next' } }),
      () => ({ kind: 'scene', to: { kind: 'at', index: upTo(3) } }),
      () => ({ kind: 'song', to: one(['next', 'previous', 'again']) }),
      () => ({ kind: 'show', to: one(['next', 'previous']) }),
      () => ({ kind: 'bank', to: { kind: one(['up', 'down']) } }),
      () => ({ kind: 'toggle', functionId: one(effects).id }),
      () => ({ kind: 'set', functionId: one(effects).id, value: upTo(2) }),
    ])();
  /** One thing or two, at once or in turns. */
  const pressOf = (): Loose[] => {
    const list = Array.from({ length: random() < 0.3 ? 2 : 1 }, action);
    const [odd, even] = list;
    return odd && even && random() < 0.4
      ? [
          { ...odd, every: 'odd' },
          { ...even, every: 'even' },
        ]
      : list;
  };
  const made = Array.from({ length: boards }, (_, n) => {
    const named = (id: string) => (n === 0 ? id : `${id}-${n}`);
    const banks = Array.from({ length: 1 + upTo(2) }, () =>
      ['s0', 's1', 's2'].map((id) =>
        assign(named(id), pressOf(), [], random() < 0.15 ? { hold: [action()] } : {}),
      ),
    );
    const { device, board, preset } = makeBoard(3, 0, banks);
    return {
      device: {
        ...device,
        id: named(device.id),
        ports: device.ports.map((p) => ({ ...p, id: named(p.id) })),
      },
      board: {
        ...board,
        id: named(board.id),
        deviceId: named(device.id),
        presetId: named(preset.id),
        widthMm: 400,
        heightMm: 200,
        controls: board.controls.map((c) => ({
          ...c,
          id: named(c.id),
          xMm: upTo(360),
          yMm: upTo(160),
          widthMm: 20 + upTo(30),
          heightMm: 20 + upTo(30),
        })),
      },
      preset: {
        ...preset,
        id: named(preset.id),
        boardId: named(board.id),
        banks: preset.banks.map((b) => ({ ...b, id: named(b.id) })),
      },
    };
  });
  const show = {
    rig: makeRig(
      [...made.map((m) => m.device), computer, fx],
      [cable(output, input)],
      made.map((m) => m.board),
    ),
    presets: made.map((m) => m.preset),
    setName: 'Set',
    songs,
  };
  return { show, world: compileWorld(show) };
}

/** What happened after some presses, one after the other, from the beginning of the set. */
export type Tried = {
  readonly presses: readonly FootPress[];
  readonly state: LiveState;
  /** The scene that the last press recalled, and what does not stand as it says. */
  readonly landed: { readonly key: string; readonly otherwise: readonly string[] } | null;
};

export const sceneKeyOf = ({ position }: LiveState): string => `${position.entryId} ${position.sceneId}`;

/** Every sequence of presses up to a length, the shortest first. */
export function* everySequence(world: World, most: number): Generator<Tried> {
  let wave: Tried[] = [{ presses: [], state: begunEvening(world), landed: null }];
  yield nth(wave, 0);
  for (let length = 1; length <= most; length++) {
    const next: Tried[] = [];
    for (const { presses, state } of wave)
      for (const { leads: _leads, ...press } of pressesAt(world, state)) {
        const after = pressed(world, state, press);
        const landed = after.recalls
          ? { key: sceneKeyOf(after.state), otherwise: standsOtherwise(world, after.state) }
          : null;
        const tried = { presses: [...presses, press], state: after.state, landed };
        next.push(tried);
        yield tried;
      }
    wave = next;
  }
}

/** The rig after presses from the beginning of the set. */
export const replayed = (world: World, presses: readonly FootPress[]): LiveState =>
  presses.reduce((state, press) => pressed(world, state, press).state, begunEvening(world));
