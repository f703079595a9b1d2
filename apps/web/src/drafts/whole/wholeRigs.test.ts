import type { FullRig } from '@idle-step/core/routing';
import {
  PROBLEM,
  RIG_FILE_FORMAT,
  type BroughtBack,
  type Kept,
  type Problem,
  type RigFile,
} from '@idle-step/contract';
import { demoRig } from '@idle-step/demo';
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import {
  bringWholeBack,
  createInParts,
  createWhole,
  removeWhole,
  type Answer,
  type Asks,
  type PartAsks,
} from './wholeRigs';

const file: RigFile = {
  format: RIG_FILE_FORMAT,
  version: 1,
  rig: demoRig as FullRig,
  presets: [],
  songs: [],
  sets: [],
};

/** How one exchange goes: well, its answer lost after the server did it, or never heard of by the server. */
type Weather = 'fine' | 'answer lost' | 'not heard';

const LOST = { failure: { kind: 'unreachable' } } as const;
const refuse = (type: string, part: Partial<Problem> = {}) =>
  ({
    failure: {
      kind: 'problem',
      problem: { type, title: '', status: 409, detail: 'Refused.', ...part } as Problem,
    },
  }) as const;

/** A server behind a bad network. */
class Server implements Asks {
  kept: Kept<FullRig> | null;
  binned: Kept<FullRig> | null = null;
  constructor(
    isThere: boolean,
    private readonly weather: Weather[],
  ) {
    this.kept = isThere ? { doc: file.rig, version: 2, savedAt: '' } : null;
  }
  private async exchange<T>(work: () => Answer<T>): Promise<Answer<T>> {
    const weather = this.weather.shift() ?? 'fine';
    if (weather === 'not heard') return LOST;
    const answer = work();
    return weather === 'fine' ? answer : LOST;
  }
  create = (given: RigFile) =>
    this.exchange<Kept<FullRig>>(() => {
      if (this.kept) return refuse(PROBLEM.stale, { current: this.kept });
      this.kept = { doc: given.rig, version: 1, savedAt: '' };
      return { data: this.kept };
    });
  look = () => this.exchange<Kept<FullRig>>(() => (this.kept ? { data: this.kept } : refuse(PROBLEM.gone)));
  remove = (_id: string, version: number) =>
    this.exchange<null>(() => {
      if (!this.kept) return refuse(PROBLEM.gone);
      if (this.kept.version !== version) return refuse(PROBLEM.stale, { current: this.kept });
      this.binned = this.kept;
      this.kept = null;
      return { data: null };
    });
  bringBack = () =>
    this.exchange<BroughtBack>(() => {
      if (!this.binned) return refuse(PROBLEM.gone);
      this.kept = { ...this.binned, version: this.binned.version + 1 };
      this.binned = null;
      return { data: { resource: 'rigs', id: file.rig.id, rigId: file.rig.id, leftOut: [] } };
    });
}

describe('keeping a rig', () => {
  it.each<[Weather[], 'done' | 'failure' | 'sentence', boolean]>([
    [[], 'done', true],
    [['answer lost'], 'done', true],
    [['answer lost', 'fine', 'answer lost'], 'done', true],
    [['not heard'], 'failure', false],
    [['answer lost', 'not heard'], 'sentence', true],
    [['not heard', 'not heard'], 'sentence', false],
  ])('%j: %s', async (weather, outcome, isKept) => {
    const server = new Server(false, weather);
    expect(Object.keys(await createWhole(server, file))).toEqual([outcome]);
    expect(server.kept !== null).toBe(isKept);
  });

  it('another rig with the same identifier is told', async () => {
    const server = new Server(true, []);
    server.kept = { doc: { ...file.rig, name: 'Another' }, version: 7, savedAt: '' };
    expect(await createWhole(server, file)).toMatchObject({ failure: { problem: { type: PROBLEM.stale } } });
  });
});

describe('deleting a rig', () => {
  it.each<[Weather[], boolean, boolean]>([
    [[], true, false],
    [['answer lost'], true, false],
    [['answer lost', 'not heard'], false, false],
    [['not heard'], false, true],
    [['not heard', 'not heard'], false, true],
  ])('%j: deleted for the page %s, still kept %s', async (weather, isDone, isKept) => {
    const server = new Server(true, weather);
    expect('done' in (await removeWhole(server, file.rig.id, 2))).toBe(isDone);
    expect(server.kept !== null).toBe(isKept);
  });

  it('one that was saved elsewhere meanwhile stays', async () => {
    const server = new Server(true, []);
    expect(await removeWhole(server, file.rig.id, 1)).toMatchObject({
      failure: { problem: { type: PROBLEM.stale } },
    });
    expect(server.kept).not.toBe(null);
  });

  it('whatever the weather, it is kept or in the bin, and the way back ends with it kept once it is fine', () =>
    fc.assert(
      fc.asyncProperty(
        fc.array(fc.constantFrom<Weather>('fine', 'answer lost', 'not heard'), { maxLength: 6 }),
        async (weather) => {
          const server = new Server(true, weather);
          await removeWhole(server, file.rig.id, 2);
          expect(server.kept === null).toBe(server.binned !== null);
          await bringWholeBack(server, file.rig.id);
          weather.splice(0);
          expect('done' in (await bringWholeBack(server, file.rig.id))).toBe(true);
          expect(server.kept?.doc).toEqual(file.rig);
        },
      ),
      { seed: 7, numRuns: 300 },
    ));
});

describe('a rig in parts', () => {
  /** Lays parts aside by their text, as often as they come, and keeps the rig with what is there. */
  const serverOf = (weather: Weather[]) => {
    const aside = new Set<string>();
    const server = new Server(false, weather);
    const kept: string[][] = [];
    const through = async <T>(work: () => Answer<T>): Promise<Answer<T>> => {
      const now = weather.shift() ?? 'fine';
      if (now === 'not heard') return LOST;
      const answer = work();
      return now === 'fine' ? answer : LOST;
    };
    const asks: PartAsks = {
      look: server.look,
      part: (_id, body) =>
        through<null>(() => {
          if (body === 'bad') return refuse(PROBLEM.invalid);
          aside.add(body);
          return { data: null };
        }),
      rig: () =>
        through<Kept<FullRig>>(() => {
          kept.push([...aside]);
          aside.clear();
          server.kept = { doc: file.rig, version: 1, savedAt: '' };
          return { data: server.kept };
        }),
      leave: () => Promise.resolve(aside.clear()),
    };
    return { asks, aside, kept };
  };
  const send = (asks: PartAsks, parts: string[], told: number[] = []) =>
    createInParts(asks, { id: file.rig.id, name: 'Big', bodies: { parts, rig: '{}' } }, (sent) =>
      told.push(sent),
    );

  it('comes whole, and says how far it is', async () => {
    const { asks, kept } = serverOf([]);
    const told: number[] = [];
    expect('done' in (await send(asks, ['a', 'b', 'c'], told))).toBe(true);
    expect([kept, told]).toEqual([[['a', 'b', 'c']], [0, 1, 2, 3]]);
  });

  it('of which one part is refused leaves nothing behind', async () => {
    const { asks, aside, kept } = serverOf([]);
    expect(await send(asks, ['a', 'bad', 'c'])).toMatchObject({
      failure: { problem: { type: PROBLEM.invalid } },
    });
    expect([kept, aside.size]).toEqual([[], 0]);
  });

  it('whatever the weather, is kept with all its parts, or not at all', () =>
    fc.assert(
      fc.asyncProperty(
        fc.array(fc.constantFrom<Weather>('fine', 'fine', 'answer lost', 'not heard'), { maxLength: 14 }),
        async (weather) => {
          const parts = ['a', 'b', 'c'];
          const { asks, kept } = serverOf(weather);
          const result = await send(asks, parts);
          expect(kept.every((all) => all.join() === 'a,b,c')).toBe(true);
          if ('done' in result) expect(kept).toHaveLength(1);
          if ('failure' in result) expect(kept).toHaveLength(0);
        },
      ),
      { seed: 8, numRuns: 500 },
    ));
});
