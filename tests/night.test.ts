import { type Setlist, type Song, entriesInOrder, partName } from '@idle-step/core/show';
import { type Preset, keyNumber, PLAIN_ASSIGNMENT, PLAIN_BANK, PLAIN_PRESET } from '@idle-step/core/floor';
import type { FullRig } from '@idle-step/core/routing';
import type { EveningLine, EveningLog } from '@idle-step/contract';
import {
  compileWorld,
  drivenBy,
  initialState,
  pauseNow,
  placeOf,
  step,
  type Command,
  type LiveEvent,
  type Show,
  type World,
} from '@idle-step/core/engine';
import { encode, hex, StreamParser, type Message } from '@idle-step/core/midi';
import { demoControl, demoSets, demoSongs, DEMO_PORT } from '@idle-step/demo';
import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import type { Browser, Page } from 'puppeteer-core';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { openBrowser, textIs, textOf, until, useApp } from './support/app';
import { withNewBoard } from '../apps/web/src/edits/boardEdits';
import { axeViolations } from './support/axe';
import { FAKE_SOURCE, fake, plugIn, type Fake } from './support/ports';

/** A whole evening, played by bytes alone, with everything going wrong that can. */

const running = useApp();
type Kept<T> = { doc: T; version: number };

/** Rig ports and what they are bound to. */
const BOUND = {
  [DEMO_PORT.crossbarIn1]: 'Blue box 1',
  [DEMO_PORT.crossbarIn2]: 'Twig small',
  [DEMO_PORT.crossbarOutA]: 'Blue box A',
  [DEMO_PORT.deckhouseIn]: 'Laptop bus',
};
const OUTPUTS = [
  [DEMO_PORT.crossbarOutA, 'Blue box A'],
  [DEMO_PORT.deckhouseIn, 'Laptop bus'],
] as const;

const put = async (path: string, kept: Kept<{ id: string }>, doc: object) => {
  const answer = await fetch(`${running.app.base}/api/${path}/${kept.doc.id}`, {
    method: 'PUT',
    headers: { 'Content-Type': 'application/json', 'If-Match': `"${kept.version}"` },
    body: JSON.stringify(doc),
  });
  expect(answer.status).toBe(200);
};

const profile = mkdtempSync(join(tmpdir(), 'idle-step-night-'));
let browser: Browser;
let show: Show;
let set: Setlist;

beforeAll(async () => {
  // Values are set at once, so that what is sent by each press can be held against a list.
  for (const kept of await running.app.get<Kept<Song>[]>('/songs'))
    await put('songs', kept, {
      ...kept.doc,
      scenes: kept.doc.scenes.map((s) => ({ ...s, transition: null, tempoBpm: null })),
    });
  // One switch walks the whole set.
  const nearFive = demoControl('near 5');
  for (const kept of await running.app.get<Kept<Preset>[]>('/presets'))
    await put('presets', kept, {
      ...kept.doc,
      banks: kept.doc.banks.map((b) => ({
        ...b,
        assignments: b.assignments.map((a) =>
          a.controlId === nearFive
            ? { ...a, label: 'On', press: [{ id: crypto.randomUUID(), kind: 'show', to: 'next' }] }
            : a,
        ),
      })),
    });
  // A page-turning pedal beside the board: two keys of the computer.
  for (const kept of await running.app.get<Kept<FullRig>[]>('/rigs')) {
    const added = withNewBoard(kept.doc, 'page-turner', false);
    const board = added.rig.boards.at(-1)!;
    const preset = {
      ...PLAIN_PRESET,
      id: crypto.randomUUID(),
      rigId: kept.doc.id,
      boardId: board.id,
      name: 'Pages',
      banks: [
        {
          ...PLAIN_BANK,
          id: crypto.randomUUID(),
          name: 'Pages',
          assignments: (['previous', 'next'] as const).map((to, i) => ({
            ...PLAIN_ASSIGNMENT,
            controlId: board.controls[i]!.id,
            press: [{ id: crypto.randomUUID(), kind: 'show', to }],
          })),
        },
      ],
    };
    await put('rigs', kept, added.rig);
    const made = await fetch(`${running.app.base}/api/presets`, {
      method: 'POST',
      headers: { 'Content-Type': 'application/json' },
      body: JSON.stringify(preset),
    });
    expect(made.status).toBe(201);
    const again = (await running.app.get<Kept<FullRig>[]>('/rigs'))[0]!;
    await put('rigs', again, {
      ...again.doc,
      boards: again.doc.boards.map((b) => (b.id === board.id ? { ...b, presetId: preset.id } : b)),
    });
  }
  const [long] = demoSets;
  set = {
    ...long!,
    id: crypto.randomUUID(),
    name: 'Twelve songs',
    calls: { portId: DEMO_PORT.crossbarIn1, channel: 4, base: 10 },
    entries: [
      ...long!.entries.map((e) => ({ ...e, id: crypto.randomUUID() })),
      {
        id: crypto.randomUUID(),
        kind: 'song',
        isEncore: false,
        notTonight: false,
        remark: '',
        songId: demoSongs.find((s) => s.name === 'Heron')!.id,
        lengthS: null,
        leftOutSceneIds: [],
      },
    ],
  };
  const made = await fetch(`${running.app.base}/api/sets`, {
    method: 'POST',
    headers: { 'Content-Type': 'application/json' },
    body: JSON.stringify(set),
  });
  expect(made.status).toBe(201);
  show = await showOf(set);
  browser = await openBrowser({ profile });
});

afterAll(async () => {
  await browser?.close().catch(() => undefined);
  rmSync(profile, { recursive: true, force: true });
});

/** What the server keeps, as it is played. */
async function showOf(of: Setlist): Promise<Show> {
  const rig = (await running.app.get<Kept<FullRig>[]>('/rigs'))[0]!.doc;
  const presets = (await running.app.get<Kept<Preset>[]>('/presets')).map((k) => k.doc);
  const byId = new Map((await running.app.get<Kept<Song>[]>('/songs')).map((k) => [k.doc.id, k.doc]));
  const entries = entriesInOrder(of);
  let before = 0;
  const pauses = entries.flatMap((e) => {
    if (e.kind !== 'song') return [{ ...e, before }];
    before++;
    return [];
  });
  const played = entries.flatMap((e) => (e.kind === 'song' ? [{ id: e.id, song: byId.get(e.songId)! }] : []));
  return {
    rig,
    presets,
    setId: of.id,
    setName: of.name,
    calls: of.calls,
    songs: played.map((p) => p.song),
    entryIds: played.map((p) => p.id),
    pauses,
  } as unknown as Show;
}

/** Gear as it stays on while the computer goes and comes: what each function was told last, and what sounds. */
class Gear {
  readonly values = new Map<string, number>();
  readonly sounding = new Set<string>();
  constructor(private readonly world: World) {}

  feed(portId: string, bytes: readonly number[]): string | null {
    let said: string | null = null;
    const parser = new StreamParser({
      message: (message) => (said = this.take(portId, message)),
      fault: () => expect.unreachable(),
    });
    parser.push(bytes);
    return said;
  }

  /** @returns the message where it drives a function of a chart, else `null`. */
  private take(portId: string, message: Message): string | null {
    if (message.kind === 'note-on' || message.kind === 'note-off') {
      const key = `${portId} ${message.channel} ${message.note}`;
      if (message.kind === 'note-on' && message.velocity > 0) this.sounding.add(key);
      else this.sounding.delete(key);
    }
    const driven = drivenBy(this.world, portId, message, null);
    if (!driven) return null;
    const { device, fn } = driven.reached;
    // A program brings its own settings: whatever was set before is gone.
    if (fn.drive.kind === 'program') for (const other of device.chart) this.values.delete(other.id);
    this.values.set(fn.id, driven.value);
    return `${portId.slice(-2)} ${hex(encode(message))}`;
  }
}

/** The same evening without anything going wrong, in the core alone. */
class Plan {
  readonly world = compileWorld(show);
  state = initialState(this.world, 0);
  private atMs = 0;
  private readonly gear = new Gear(this.world);

  /** @returns what comes of commands at the bound ports that drives something, in any order. */
  do(...commands: readonly Command[]): string[] {
    return this.play((take) => {
      for (const command of commands) take({ kind: 'command', atMs: (this.atMs += 40), command });
    });
  }

  /** The same of bytes that come by the foot board's port. */
  press(bytes: readonly number[][]): string[] {
    return this.play((take) => {
      const parser = new StreamParser({
        message: (message) =>
          take({ kind: 'message', atMs: (this.atMs += 40), portId: DEMO_PORT.crossbarIn1, message }),
        fault: () => expect.unreachable(),
      });
      for (const raw of bytes) parser.push(raw);
    });
  }

  private play(events: (take: (event: LiveEvent) => void) => void): string[] {
    const said: string[] = [];
    const take = (event: LiveEvent) => {
      const done = step(this.world, this.state, event);
      this.state = done.state;
      for (const e of done.effects)
        if (e.kind === 'send' && OUTPUTS.some(([id]) => id === e.portId)) {
          const told = this.gear.feed(e.portId, encode(e.message));
          if (told) said.push(told);
        }
    };
    events(take);
    take({ kind: 'tick', atMs: (this.atMs += 5000) });
    return said.sort();
  }

  get place() {
    return placeOf(this.world, this.state);
  }

  /** What stands large on the stage. */
  get title(): string {
    const pause = pauseNow(this.world, this.state.run);
    if (pause) return pause.name;
    const { songIndex, partIndex } = this.place;
    const { song, parts } = this.world.songs[songIndex]!;
    return partName(song, parts[partIndex!]!);
  }

  /** What the gear behind the bound ports has to stand at, by function. */
  get wanted(): [name: string, id: string, value: number][] {
    const { songIndex, sceneIndex } = this.place;
    return [...(this.world.songs[songIndex]!.cells[sceneIndex ?? -1] ?? [])].flatMap(([id, { value }]) => {
      const { device, fn, path } = this.world.functions.get(id)!;
      const isBound = path && OUTPUTS.some(([portId]) => portId === path.portId);
      return isBound && fn.shape.kind !== 'trigger'
        ? [[`${device.name} ${fn.name}`, id, value] as [string, string, number]]
        : [];
    });
  }
}

async function openStage(): Promise<Page> {
  const before = await browser.pages();
  const page = await browser.newPage();
  // Of several windows one plays: this one.
  for (const other of before) await other.close();
  await page.setViewport({ width: 1280, height: 800 });
  await plugIn(page, BOUND);
  await page.evaluateOnNewDocument((setId) => {
    localStorage.setItem('idle-step.screen', JSON.stringify({ setId }));
  }, set.id);
  await page.goto(`${running.app.base}/stage`);
  await bound(page);
  return page;
}

/** Until the fake ports have their handlers: bytes before that would meet nobody. */
const bound = (page: Page) =>
  until(
    'ports',
    () => textOf(page, '.stage-foot'),
    (t) => t?.startsWith('2 in, 2 out') ?? false,
  );

const titleIs = (page: Page, title: string) =>
  until(
    'the title',
    () => textOf(page, '.now-text'),
    (t) => t === title,
  );

it('a set of twelve songs by bytes alone, whatever goes wrong meanwhile', async () => {
  const plan = new Plan();
  const gear = new Gear(plan.world);
  const { number } = show.rig.boards[0]!.controls.find((c) => c.name === 'near 5')!.sends;
  const press: [number[], number[]] = [
    [0xbf, number, 127],
    [0xbf, number, 0],
  ];
  let page = await openStage();
  await until(
    'ready',
    () => textOf(page, '[data-testid="before-set"]'),
    (t) => t?.includes('it opens without the server') ?? false,
  );
  /** Everything that left since it was last looked, as what drives something. */
  let looked = OUTPUTS.map(() => 0);
  const left = async (): Promise<string[]> => {
    const said: string[] = [];
    for (const [i, [portId, name]] of OUTPUTS.entries()) {
      const sent = await page.evaluate(
        (n) => (window as unknown as { midiFake: Fake }).midiFake.sent(n),
        name,
      );
      for (const bytes of sent.slice(looked[i])) {
        const told = gear.feed(portId, bytes);
        if (told) said.push(told);
      }
      looked[i] = sent.length;
    }
    return said.sort();
  };
  const standsRight = async (more: string[] = []) => {
    await until(
      `gear in ${plan.title}`,
      async () => {
        more.push(...(await left()));
        return plan.wanted.flatMap(([name, id, value]) =>
          gear.values.get(id) === value ? [] : `${name}: ${gear.values.get(id)} and not ${value}`,
        );
      },
      (wrong) => wrong.length === 0,
    );
    return more;
  };
  const deliver = (bytes: number[]) =>
    page.evaluate((b) => (window as unknown as { midiFake: Fake }).midiFake.deliver('Blue box 1', b), bytes);
  const went: string[] = [];
  /** One step on, held against the plan: the same messages, none twice. */
  const next = async ({ isWhole = true } = {}) => {
    const expected = plan.press(press);
    await deliver(press[0]);
    await deliver(press[1]);
    if (plan.state.run) await titleIs(page, plan.title);
    const said = await standsRight();
    // Whatever waits for a device to settle, and whatever would come twice.
    await new Promise((resolve) => setTimeout(resolve, 350));
    said.push(...(await left()));
    if (isWhole) expect([plan.title, said.sort()]).toEqual([plan.title, expected]);
    went.push(plan.title);
  };
  const nextSong = async () => {
    const { songIndex } = plan.place;
    do await next();
    while (plan.state.run && plan.place.songIndex === songIndex);
  };
  const comesBack = async () => {
    looked = OUTPUTS.map(() => 0);
    await bound(page);
    await titleIs(page, plan.title);
    await new Promise((resolve) => setTimeout(resolve, 400));
    // Nothing that would be heard was sent: the gear stands as it stood.
    expect(await left()).toEqual([]);
    await standsRight();
  };

  await next();
  // The first song is really played: one that is left within three seconds counts as gone past.
  await new Promise((resolve) => setTimeout(resolve, 3200));
  await nextSong();
  await nextSong();
  expect(plan.place.songIndex).toBe(2);
  await running.app.kill();
  await nextSong();
  expect(plan.world.songs[plan.place.songIndex]!.song.name).toBe('Slow Ferry');
  // A key that is held while the page goes away.
  await fake(page, (f) => f.deliver('Twig small', [0x9d, 60, 90]));
  await until(
    'a note that sounds',
    async () => {
      await left();
      return gear.sounding.size;
    },
    (n) => n > 0,
  );
  await nextSong();
  expect(plan.place.songIndex).toBe(4);
  await next();
  await page.reload();
  await comesBack();
  await until(
    'no note hangs',
    async () => {
      await left();
      return gear.sounding.size;
    },
    (n) => n === 0,
  );
  await textOf(page, '.stage-set').then((t) => expect(t).toMatch(/^Back after \d+ s; nothing was sent/));
  await nextSong();
  await nextSong();
  expect(plan.place.songIndex).toBe(6);
  await next();
  await fake(page, (f) => f.unplug('Blue box A'));
  await textIs(page, '[data-testid="ports-missing"]', (t) => t === 'Not plugged in: Blue box A');
  await next({ isWhole: false }).catch(() => undefined);
  went.push(plan.title);
  await fake(page, (f) => f.plug('Blue box A'));
  await textIs(page, '.stage-foot .ok', (t) => t === '2 in, 2 out');
  await standsRight();
  await new Promise((resolve) => setTimeout(resolve, 400));
  await left();
  await nextSong();
  await nextSong();
  expect(plan.place.songIndex).toBe(8);
  // The time of day jumps by an hour and back by two.
  for (const hours of [1, -2]) {
    await page.evaluate((h) => {
      const real = Date.now.bind(Date);
      Date.now = () => real() + h * 3_600_000;
    }, hours);
    await next();
  }
  while (plan.place.songIndex < 10) await nextSong();
  await next();
  await new Promise((resolve) => setTimeout(resolve, 300));
  const gone = new Promise((resolve) => browser.process()!.once('exit', resolve));
  browser.process()!.kill('SIGKILL');
  await gone;
  browser = await openBrowser({ profile });
  page = await openStage();
  await comesBack();
  await running.app.up();
  while (plan.state.run) await nextSong();
  expect(plan.place.songIndex).toBe(11);
  expect(gear.sounding.size).toBe(0);

  const list = await until(
    'the evening on the server',
    () => running.app.get<EveningLine[]>(`/evenings?rigId=${show.rig.id}`),
    (evenings) => (evenings[0]?.endedAt ?? null) !== null && evenings[0]!.lineCount > went.length,
  );
  expect(list).toHaveLength(1);
  const log = await running.app.get<EveningLog>(`/evenings/${list[0]!.id}`);
  // Whole: every line there is, once, in order; and the browser has nothing left to tell.
  expect(log.entries.map((e) => e.number)).toEqual(log.entries.map((_, i) => i));
  expect(log.entries.map((e) => e.atMs)).toEqual(log.entries.map((e) => e.atMs).toSorted((a, b) => a - b));
  const kinds = log.entries.map((e) => e.kind);
  expect([kinds[0], kinds.at(-1)]).toEqual(['begin', 'end']);
  expect(kinds.filter((k) => k === 'pause')).toHaveLength(1);
  const scenes = log.entries.flatMap((e) => (e.kind === 'scene' ? `${e.entryId} ${e.scene}` : []));
  expect(scenes).toEqual(scenesOf(plan.world));
  await until(
    'nothing untold',
    () =>
      page.evaluate(
        () =>
          new Promise<number>((resolve) => {
            const opened = indexedDB.open('idle-step');
            opened.onsuccess = () => {
              const lines = opened.result.transaction('lines').objectStore('lines').count();
              lines.onsuccess = () => resolve(lines.result);
            };
          }),
      ),
    (count) => count === 0,
  );
  const again = await fetch(`${running.app.base}/api/evenings`, {
    method: 'POST',
    headers: { 'Content-Type': 'application/json' },
    body: JSON.stringify({ evening: log.evening, entries: log.entries.slice(0, 50) }),
  });
  expect(await again.json()).toEqual({ lineCount: log.entries.length });
});

/** Every scene of the evening in the order in which it is played. */
const scenesOf = (world: World): string[] =>
  world.songs.flatMap(({ entryId, song, parts }) =>
    parts.map((p) => `${entryId} ${song.scenes.find((s) => s.id === p.sceneId)!.name}`),
  );

describe('after the show', () => {
  it('planned and real lengths stand side by side, and the real ones are taken into the songs', async () => {
    const [evening] = await running.app.get<EveningLine[]>(`/evenings?rigId=${show.rig.id}`);
    const page = await browser.newPage();
    await page.bringToFront();
    await page.setViewport({ width: 1280, height: 800 });
    await page.goto(`${running.app.base}/sets/${set.id}/evenings/${evening!.id}`);
    await page.waitForSelector('.evening-songs tbody tr');
    expect(await page.$$('.evening-songs tbody tr')).toHaveLength(12);
    expect(await axeViolations(page)).toEqual([]);
    // A song that was left within three seconds was only gone past, and has no length to take.
    const offers = await page.$$eval('.evening-songs tbody tr', (rows) =>
      rows.map((row) => row.querySelector('button') !== null),
    );
    const at = offers.indexOf(true);
    expect(at).toBeGreaterThanOrEqual(0);
    const lengthS = async () =>
      (await running.app.get<Kept<Song>>(`/songs/${show.songs[at]!.id}`)).doc.lengthS;
    const before = await lengthS();
    await page.locator(`.evening-songs tbody tr:nth-child(${at + 1}) button`).click();
    await until('the real length', lengthS, (now) => now < before);
    await textIs(page, '.evening-log', (t) => t.includes('the set began'));
    await page.close();
  });
});

describe('the same set by other triggers', () => {
  it('page-turning keys and program numbers walk it to the same states', async () => {
    const plan = new Plan();
    const gear = new Gear(plan.world);
    const page = await openStage();
    await page.bringToFront();
    await textIs(page, '.stage-set', (t) => t.includes('Begin the set') || t.startsWith('Back after'));
    const looked = OUTPUTS.map(() => 0);
    const standsRight = () =>
      until(
        `gear in ${plan.title}`,
        async () => {
          for (const [i, [portId, name]] of OUTPUTS.entries()) {
            const sent = await page.evaluate(
              (n) => (window as unknown as { midiFake: Fake }).midiFake.sent(n),
              name,
            );
            for (const bytes of sent.slice(looked[i])) gear.feed(portId, bytes);
            looked[i] = sent.length;
          }
          return plan.wanted.filter(([, id, value]) => gear.values.get(id) !== value);
        },
        (wrong) => wrong.length === 0,
      );
    const down = keyNumber('PageDown')!;
    for (let i = 0; i < 12; i++) {
      plan.do({ kind: 'key', number: down, isDown: true }, { kind: 'key', number: down, isDown: false });
      await page.keyboard.press('PageDown');
      await titleIs(page, plan.title);
      // What was known before this page was opened is not sent again; everything else is.
      if (i === 0) {
        plan.do({ kind: 'scene', to: 'again' });
        await page.evaluate(() =>
          [...document.querySelectorAll<HTMLButtonElement>('.stage-foot button')]
            .find((b) => b.textContent.trim() === 'Send again')!
            .click(),
        );
      }
      await standsRight();
    }
    const up = keyNumber('PageUp')!;
    plan.do({ kind: 'key', number: up, isDown: true }, { kind: 'key', number: up, isDown: false });
    await page.keyboard.press('PageUp');
    await titleIs(page, plan.title);
    await standsRight();
    for (let song = 0; song < 12; song++) {
      plan.press([[0xc4, 10 + song]]);
      await page.evaluate(
        (b) => (window as unknown as { midiFake: Fake }).midiFake.deliver('Blue box 1', b),
        [0xc4, 10 + song],
      );
      await textIs(page, '.stage-head h1', (t) => t === plan.world.songs[song]!.song.name);
      await titleIs(page, plan.title);
      await standsRight();
    }
    // Back to the first song, and written down there, for whoever opens it next.
    await page.evaluate(
      (b) => (window as unknown as { midiFake: Fake }).midiFake.deliver('Blue box 1', b),
      [0xc4, 10],
    );
    await textIs(page, '.stage-head h1', (t) => t === plan.world.songs[0]!.song.name);
    await new Promise((resolve) => setTimeout(resolve, 300));
    await page.close();
  });

  it('opened again with the server never started, it plays', async () => {
    await running.app.kill();
    await browser.close();
    browser = await openBrowser({ profile });
    const page = await browser.newPage();
    await page.setViewport({ width: 1280, height: 800 });
    await page.evaluateOnNewDocument(FAKE_SOURCE);
    await page.goto(running.app.base);
    await textIs(page, '.empty-place', (t) => t.includes('The server does not answer'));
    await page.locator('.empty-place ::-p-text(Play it on the stage)').click();
    await page.waitForSelector('.stage-now');
    await bound(page);
    const titles: (string | null)[] = [];
    for (let i = 0; i < 4; i++) {
      const before = await textOf(page, '.now-text');
      await page.keyboard.press('PageDown');
      await until(
        'a step on',
        () => textOf(page, '.now-text'),
        (t) => t !== before,
      );
      titles.push(await textOf(page, '.now-text'));
      await new Promise((resolve) => setTimeout(resolve, 250));
    }
    const sent = await fake(page, (f) => f.sent('Blue box A').length + f.sent('Laptop bus').length);
    expect(sent).toBeGreaterThan(4);
    await running.app.up();
  });
});
