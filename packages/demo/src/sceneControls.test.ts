import { SongSchema } from '@idle-step/contract';
import { compileWorld, initialState, isLampLit, step, type LiveEvent } from '@idle-step/core/engine';
import { controller, encode, parseBytes } from '@idle-step/core/midi';
import { trace } from '@idle-step/core/proof';
import { allCueRows, cueCell, sheetState, typedValues, withTyped, type CueRow } from '@idle-step/core/sheet';
import type { Song } from '@idle-step/core/show';
import { describe, expect, it } from 'vitest';
import { demoControl, demoPresets, demoRig, demoSongs } from './index';

const rows = allCueRows(demoRig, demoPresets);
const row = (title: string): CueRow => rows.find((r) => r.title === title)!;
const PEDAL = 'Plank 10 pedal 1 moves';
const SWITCH = 'Plank 10 far 1 does';

/** Songs with what controls do typed into their scenes: name of the song, scene from 0, line, text. */
function songsWith(...typed: readonly (readonly [string, number, string, string])[]): readonly Song[] {
  return demoSongs.map((song) => {
    let now = song;
    for (const [name, sceneIndex, title, text] of typed) {
      if (name !== song.name) continue;
      const next = withTyped(now, row(title), sceneIndex, text);
      if (typeof next === 'string') throw new Error(next);
      now = next;
    }
    expect(SongSchema.safeParse(now).error).toBeUndefined();
    return now;
  });
}

/** Plays songs and keeps what a receiver would: the last value of each controller on each channel, from bytes alone. */
function player(songs: readonly Song[], rig = demoRig, presets = demoPresets) {
  const world = compileWorld({ rig, presets, setName: '', songs });
  let state = initialState(world, 0);
  let atMs = 0;
  const heard = new Map<string, number>();
  const play = (event: (atMs: number) => LiveEvent) => {
    atMs += 30_000;
    const done = step(world, state, event(atMs));
    state = done.state;
    for (const effect of done.effects)
      if (effect.kind === 'send')
        for (const message of parseBytes(encode(effect.message)).messages)
          if (message.kind === 'controller')
            heard.set(`ch ${message.channel + 1} CC ${message.controller}`, message.value);
  };
  return {
    world,
    state: () => state,
    heard,
    go: (name: string, sceneIndex: number) =>
      play((now) => ({
        kind: 'command',
        atMs: now,
        command: { kind: 'go', songIndex: songs.findIndex((s) => s.name === name), sceneIndex },
      })),
    bank: (boardId: string, bankId: string) =>
      play((now) => ({
        kind: 'command',
        atMs: now,
        command: { kind: 'bank', boardId, to: { kind: 'bank', bankId } },
      })),
    /** A controller of the foot board, on its channel. */
    foot: (name: string, value: number) => {
      const { control, boardIndex } = world.controls.get(demoControl(name))!;
      const { device, path } = world.boards[boardIndex]!;
      const { number } = control.sends;
      play((now) => ({
        kind: 'message',
        atMs: now,
        portId: path!.portId,
        message: controller(device.channel, number, value),
      }));
    },
  };
}

describe('what a pedal moves, said by scenes', () => {
  it('is carried from scene to scene, ends with its song, and a bank counts again where a scene says so', () => {
    const mine = player(
      songsWith(['Slow Ferry', 0, PEDAL, 'Drive amount'], ['Slow Ferry', 3, PEDAL, 'as its bank']),
    );
    const drive = demoRig.devices
      .find((d) => d.name === 'Kelpline')!
      .chart.find((f) => f.name === 'Drive amount')!.drive as { controller: number };
    const key = `ch 3 CC ${drive.controller}`;
    const plain = player(demoSongs);
    /** What moving the pedal there does, against the same in songs that say nothing. */
    const moved = (song: string, sceneIndex: number, place: number) => {
      for (const p of [mine, plain]) {
        p.go(song, sceneIndex);
        p.foot('pedal 1', place === 0 ? 1 : 0);
        p.heard.clear();
        p.foot('pedal 1', place);
      }
      return { mine: [...mine.heard], plain: [...plain.heard] };
    };
    expect(moved('Slow Ferry', 0, 100).mine).toEqual([[key, 100]]);
    expect(moved('Slow Ferry', 2, 17).mine).toEqual([[key, 17]]);
    const back = moved('Slow Ferry', 3, 64);
    expect(back.mine).toEqual(back.plain);
    expect(back.plain).not.toEqual([]);
    const other = moved('Low Water', 0, 33);
    expect(other.mine).toEqual(other.plain);
  });

  it('moves between two ends, heel and toe', () => {
    const mine = player(songsWith(['Slow Ferry', 0, PEDAL, 'Kelpline Reverb mix 20-100']));
    mine.go('Slow Ferry', 0);
    mine.foot('pedal 1', 64);
    for (const [place, value] of [
      [0, 20],
      [127, 100],
    ] as const) {
      mine.foot('pedal 1', place);
      expect(mine.heard.get('ch 3 CC 91')).toBe(value);
    }
  });
});

describe('what a switch does, said by scenes', () => {
  it('toggles with its lamp, whatever its bank says, and the trace says the same', () => {
    const mine = player(
      songsWith(
        ['Slow Ferry', 1, 'Echo', 'off'],
        ['Slow Ferry', 1, SWITCH, 'Echo'],
        ['Slow Ferry', 2, SWITCH, 'Snapshot 6'],
      ),
    );
    const press = () => {
      mine.heard.clear();
      mine.foot('far 1', 127);
      mine.foot('far 1', 0);
      return [...mine.heard];
    };
    const lit = () => isLampLit(mine.state(), demoControl('far 1'));
    const echo = demoRig.devices.find((d) => d.name === 'Kelpline')!.chart.find((f) => f.name === 'Echo')!
      .drive as { controller: number };
    mine.go('Slow Ferry', 0);
    const before = press();
    mine.go('Slow Ferry', 1);
    expect(lit()).toBe(false);
    expect(press()).toEqual([[`ch 3 CC ${echo.controller}`, 127]]);
    expect(lit()).toBe(true);
    expect(press()).toEqual([[`ch 3 CC ${echo.controller}`, 0]]);
    expect(lit()).toBe(false);
    const titles = (): readonly string[] =>
      trace(
        mine.world,
        mine.state(),
        { kind: 'gesture', controlId: demoControl('far 1'), gesture: 'press' },
        0,
      ).ways.flatMap((w) => w.hops.map((h) => h.title));
    expect(titles().join()).toContain('Echo');
    mine.go('Slow Ferry', 2);
    expect(press()).toEqual([['ch 3 CC 22', 5]]);
    // The song before it is as it was.
    mine.go('Slow Ferry', 0);
    expect(before.map(([key]) => key)).toEqual(expect.arrayContaining(press().map(([key]) => key)));
  });
});

describe('a foot that is down while the scene changes', () => {
  it('lets go of what it pressed, and begins nothing of the scene that came', () => {
    const mine = player(
      songsWith(
        ['Slow Ferry', 1, 'Echo', 'off'],
        ['Slow Ferry', 1, SWITCH, 'Echo'],
        ['Slow Ferry', 2, SWITCH, 'Snapshot 6'],
      ),
    );
    mine.go('Slow Ferry', 1);
    mine.foot('far 1', 127);
    mine.go('Slow Ferry', 2);
    mine.heard.clear();
    mine.foot('far 1', 0);
    expect([...mine.heard]).toEqual([]);
    mine.foot('far 1', 127);
    expect([...mine.heard]).toEqual([['ch 3 CC 22', 5]]);
  });
});

describe('a bank that follows the song', () => {
  const board = demoRig.boards[0]!;
  const preset = demoPresets.find((p) => p.id === board.presetId)!;
  const second = { ...preset.banks[1]!, name: ' slow FERRY ' };
  const playerWith = (bankFollows: typeof board.bankFollows, brings?: number) => {
    const rig = {
      ...demoRig,
      boards: demoRig.boards.map((b) => (b.id === board.id ? { ...b, bankFollows } : b)),
    };
    const presets = demoPresets.map((p) =>
      p.id === preset.id ? { ...p, banks: p.banks.with(1, second) } : p,
    );
    const songs = demoSongs.map((s) =>
      s.name === 'Slow Ferry' && brings !== undefined
        ? {
            ...s,
            scenes: s.scenes.with(0, { ...s.scenes[0]!, banks: [{ boardId: board.id, index: brings }] }),
          }
        : { ...s, scenes: s.scenes.map((x) => ({ ...x, banks: [] })) },
    );
    return player(songs, rig, presets);
  };
  const bankOf = (mine: ReturnType<typeof player>) =>
    preset.banks.findIndex((b) => b.id === (mine.state().banks[board.id] ?? preset.banks[0]!.id));
  it.each([
    ['nothing', undefined, [0, 0]],
    ['song-name', undefined, [1, 1]],
    [
      'song-number',
      undefined,
      [
        demoSongs.findIndex((s) => s.name === 'Slow Ferry') < preset.banks.length
          ? demoSongs.findIndex((s) => s.name === 'Slow Ferry')
          : 0,
        0,
      ],
    ],
    // What the scene itself brings counts.
    ['song-name', 2, [2, 2]],
  ] as const)('%s, a scene bringing %s', (follows, brings, [inFerry, inFirst]) => {
    const mine = playerWith(follows, brings);
    mine.go('Slow Ferry', 0);
    expect(bankOf(mine)).toBe(inFerry);
    // A song without a bank of its own leaves the board as it is, except by number: it is the first.
    mine.go(demoSongs[0]!.name, 0);
    expect(bankOf(mine)).toBe(inFirst);
  });
  it('comes with the song and not with each of its scenes', () => {
    const mine = playerWith('song-name');
    mine.go('Slow Ferry', 0);
    mine.bank(board.id, preset.banks[2]!.id);
    mine.go('Slow Ferry', 1);
    expect(bankOf(mine)).toBe(2);
  });
});

describe('the lines of controls in the sheet', () => {
  const song = demoSongs.find((s) => s.name === 'Slow Ferry')!;
  const world = compileWorld({ rig: demoRig, presets: demoPresets, setName: '', songs: [song] });
  const shown = (title: string, text: string) => {
    const next = withTyped(song, row(title), 1, text);
    return typeof next === 'string' ? next : cueCell(row(title), next, sheetState(next, world), 2)?.text;
  };
  it.each([
    [PEDAL, 'drive amount', 'Drive amount'],
    [PEDAL, 'Kelpline: Reverb mix 20-100', 'Reverb mix 20-100'],
    [PEDAL, 'bank', 'as its bank'],
    [SWITCH, 'Echo', 'Echo'],
    [SWITCH, 'Snapshot 6', 'Snapshot 6'],
  ])('%s takes %s, which is carried as %s', (title, text, expected) => {
    expect(shown(title, text)).toBe(expected);
    // What is shown can be typed again.
    expect(shown(title, expected)).toBe(expected);
  });
  it.each([
    [PEDAL, 'Echo'],
    [PEDAL, 'nothing like it'],
    [SWITCH, 'bank +'],
    [SWITCH, 'CC 7'],
  ])('%s refuses %s with what would be right', (title, text) =>
    expect(shown(title, text)).toMatch(/a function like .+, or “as its bank”, would be right/),
  );
  it('offer what they take, and that is taken', () => {
    for (const title of [PEDAL, SWITCH])
      for (const text of typedValues(row(title))) expect(shown(title, text), text).toBe(text);
  });
  it('a control that is gone from its board does what its bank says', () => {
    const [typed] = songsWith([demoSongs[0]!.name, 0, PEDAL, 'Drive amount']);
    const boards = demoRig.boards.map((b) => ({
      ...b,
      controls: b.controls.filter((c) => c.name !== 'pedal 1'),
    }));
    const bare = compileWorld({
      rig: { ...demoRig, boards },
      presets: demoPresets,
      setName: '',
      songs: [typed!],
    });
    expect(bare.hasSceneControls).toBe(false);
  });
});
