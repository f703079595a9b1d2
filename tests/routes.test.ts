import { type FullRig, type Routing, type Route, PLAIN_FROM, PLAIN_ROUTE } from '@idle-step/core/routing';
import type { Song } from '@idle-step/core/show';
import type { Kept } from '@idle-step/contract';
import { demoRig, DEMO_PORT as PORT } from '@idle-step/demo';
import type { Page } from 'puppeteer-core';
import { afterEach, beforeAll, describe, expect, it } from 'vitest';
import { axeViolations } from './support/axe';
import { choose, fill, HeldRequests, openPage, pressButton, textIs, until, useApp } from './support/app';
import { bindPort, fake, hexOf, openWithPorts } from './support/ports';

/** Routes from bytes to bytes in the real page; the trace and the replay of what was played. */

const running = useApp();

const rig = async () => (await running.app.get<Kept<FullRig>>(`/rigs/${demoRig.id}`)).doc;

/** Writes routes into the rig by its address, as another window would. */
async function keepRouting(routing: Routing, change: (rig: FullRig) => FullRig = (r) => r): Promise<void> {
  const kept = await running.app.get<Kept<FullRig>>(`/rigs/${demoRig.id}`);
  const answer = await fetch(`${running.app.base}/api/rigs/${demoRig.id}`, {
    method: 'PUT',
    headers: { 'content-type': 'application/json', 'if-match': `"${kept.version}"` },
    body: JSON.stringify(change({ ...kept.doc, routing })),
  });
  if (!answer.ok) throw new Error(await answer.text());
}

/** No song uses the layers of the demo, so that its routes can be taken away. */
beforeAll(async () => {
  const { doc, version } = (await running.app.get<Kept<Song>[]>('/songs')).find(
    ({ doc: song }) => song.name === 'Paper Weir',
  )!;
  const scenes = doc.scenes.map((s) => ({ ...s, routes: [] }));
  const answer = await fetch(`${running.app.base}/api/songs/${doc.id}`, {
    method: 'PUT',
    headers: { 'content-type': 'application/json', 'if-match': `"${version}"` },
    body: JSON.stringify({ ...doc, scenes }),
  });
  expect(answer.status).toBe(200);
});

let nextId = 0;
const route = (name: string, part: Partial<Route>): Route =>
  ({
    id: `00000000-0000-4000-8000-0000000f${String(++nextId).padStart(4, '0')}`,
    name,
    ...structuredClone(PLAIN_ROUTE),
    from: { ...PLAIN_FROM, portIds: [PORT.crossbarIn2] },
    ...part,
  }) as Route;
const of = (...routes: Route[]): Routing => ({ lines: [], routes, othersTo: [] });

/** A page whose spare input and both outputs are bound. */
async function openBound(): Promise<Page & { troubles: string[] }> {
  const page = await openWithPorts(running.browser, running.app.base, '/rig');
  await bindPort(page, 'Crossbar', 'In 2', 'Twig small');
  await bindPort(page, 'Crossbar', 'Out A', 'Blue box A');
  await bindPort(page, 'Crossbar', 'Out B', 'Laptop bus');
  return page;
}

const goTo = async (page: Page, room = ''): Promise<void> => {
  await page.locator('.rail a[href="/routes"]').click();
  if (room) await page.locator(`.rooms a::-p-text(${room})`).click();
};

const deliver = (page: Page, bytes: string): Promise<void> =>
  page.evaluate(
    (list) =>
      (window as unknown as { midiFake: { deliver(name: string, bytes: number[]): void } }).midiFake.deliver(
        'Twig small',
        list,
      ),
    bytes.split(' ').map((b) => parseInt(b, 16)),
  );
const outA = (page: Page) => fake(page, (f) => f.sent('Blue box A')).then(hexOf);
const outB = (page: Page) => fake(page, (f) => f.sent('Laptop bus')).then(hexOf);

/** What both outputs get more for some bytes. */
async function sentFor(page: Page, bytes: string): Promise<{ a: string[]; b: string[] }> {
  const [a, b] = [await outA(page), await outB(page)];
  await deliver(page, bytes);
  return { a: (await outA(page)).slice(a.length), b: (await outB(page)).slice(b.length) };
}

/** Waits until the rig is there, with all that can be chosen from it. */
const drawn = (page: Page) =>
  until(
    'lists of the rig',
    () => page.$$eval('select option', (o) => o.length),
    (n) => n > 6,
  );

afterEach(async () => {
  await keepRouting(demoRig.routing, (r) => ({ ...r, devices: demoRig.devices }));
  for (const context of running.browser.browserContexts().slice(1)) await context.close();
});

describe('a route made in the page', () => {
  it('changes controllers 30 to 7 and 31 to 10, notes 40 to 52 and 45 to 54, and puts all on channel 3', async () => {
    await keepRouting(of());
    const page = await openBound();
    await goTo(page);
    await textIs(page, '.empty-place', (t) => t.startsWith('A route takes in what arrives at an input'));
    await pressButton(page, 'Add a route');
    await page.locator('.part[aria-label^="From"]').click();
    await page.locator('.route-part ::-p-text(Crossbar In 2)').click();
    await page.locator('.route-part ::-p-text(Twig 4 USB)').click();
    await page.locator('.part[aria-label^="Send"]').click();
    await fill(page, 'Numbers in and out', 'CC 30 to 7, 31 to 10; note 40 to 52, 45 to 54');
    await choose(page, 'Channel', 'always');
    await choose(page, 'Which', '3');
    await page.locator('.part[aria-label^="To"]').click();
    await choose(page, 'Destination 1', 'Crossbar Out A');
    await textIs(
      page,
      '.route-words',
      (t) =>
        t ===
        'From Crossbar In 2 take everything, send 4 numbers changed; on channel 3 to Crossbar Out A, always.',
    );
    await textIs(page, '.save-state', (t) => /^saved \d/.test(t));
    for (const [came, went] of [
      ['B0 1E 63', 'B2 07 63'],
      ['B5 1F 00', 'B2 0A 00'],
      ['90 28 50', '92 34 50'],
      ['80 28 40', '82 34 40'],
      ['9F 2D 01', '92 36 01'],
      ['9F 2D 00', '92 36 00'],
      ['B0 20 05', 'B2 20 05'],
      ['B0 28 05', 'B2 28 05'],
      ['90 1E 05', '92 1E 05'],
      ['90 1E 00', '92 1E 00'],
      ['C1 1E', 'C2 1E'],
      ['E0 01 40', 'E2 01 40'],
      ['E0 00 40', 'E2 00 40'],
      ['D0 1E', 'D2 1E'],
    ] as const)
      expect(await sentFor(page, came), came).toEqual({ a: [went], b: [] });
    // The sentence is lit as something passes, and goes out by itself.
    await deliver(page, 'B0 1E 62');
    await page.waitForSelector('.route.lit');
    await page.waitForSelector('.route:not(.lit)');
    // Counted beside the sentence, and kept by the server.
    await textIs(page, '.counts', (t) => t === '15 in, 15 out');
    const kept = (await rig()).routing.routes;
    expect(kept).toMatchObject([
      { from: { portIds: [PORT.crossbarIn2] }, change: { channel: { channel: 2 } } },
    ]);
    expect(kept[0]!.change.numbers).toHaveLength(4);
    // Undo takes it back, bit by bit.
    await pressButton(page, 'Remove New route');
    await textIs(page, '.empty-place', (t) => t.length > 0);
    await page.keyboard.down('Control');
    await page.keyboard.press('z');
    await page.keyboard.up('Control');
    await textIs(page, '.route-words', (t) => t.includes('4 numbers changed'));
    await textIs(page, '.save-state', (t) => /^saved \d/.test(t));
    expect(page.troubles).toEqual([]);
  });

  it('keeps numbers that are none as typed, with a sentence', async () => {
    const page = await openPage(running.browser, running.app.base, '/routes');
    await page.locator('.part[aria-label^="Send: as it is"]').click();
    await fill(page, 'Numbers in and out', 'CC 30 to 700');
    await textIs(
      page,
      '.route-part [role="alert"]',
      (t) => t === 'Part 1, “CC 30 to 700”, has “700” where a number from 0 to 127 has to stand.',
    );
    expect((await rig()).routing).toEqual(demoRig.routing);
  });

  it('that feeds itself is told before it runs, and stopped while it runs', async () => {
    const line = { id: '00000000-0000-4000-8000-0000000e0001', name: 'Ring' };
    const into = route('Into it', { to: [{ portId: line.id, channel: null }] });
    const round = route('Round', {
      from: { ...PLAIN_FROM, portIds: [line.id] },
      to: [
        { portId: line.id, channel: null },
        { portId: PORT.crossbarOutA, channel: null },
      ],
    } as Partial<Route>);
    await keepRouting({ lines: [line], routes: [into, round], othersTo: [] });
    const page = await openBound();
    await goTo(page);
    await textIs(page, '.notice', (t) => t.startsWith('“Round” feeds itself'));
    const { a } = await sentFor(page, 'B0 07 40');
    expect(a.length).toBeGreaterThan(0);
    expect(a.length).toBeLessThan(300);
  });
});

describe('one channel split by two gate controllers', () => {
  const gated = (name: string, number: number, portId: string) =>
    route(name, {
      gate: {
        by: { kind: 'controller', portId: null, channel: null, controller: number, from: 64, to: 127 },
        startsOpen: false,
        holds: ['note'],
        others: 'stop',
      },
      to: [{ portId, channel: null }],
      after: 'pass',
    });

  it('sends notes only, by each gate as it stands, and ends them where they began', async () => {
    await keepRouting(of(gated('Left', 20, PORT.crossbarOutA), gated('Right', 21, PORT.crossbarOutB)));
    const page = await openBound();
    await goTo(page);
    const gates = async (left: string, right: string) => {
      expect(await sentFor(page, `B0 14 ${left}`)).toEqual({ a: [], b: [] });
      expect(await sentFor(page, `B0 15 ${right}`)).toEqual({ a: [], b: [] });
    };
    for (const [left, right, a, b] of [
      ['00', '00', [], []],
      ['7F', '00', ['90 3C 5A'], []],
      ['00', '7F', [], ['90 3C 5A']],
      ['7F', '7F', ['90 3C 5A'], ['90 3C 5A']],
    ] as const) {
      await gates(left, right);
      expect(await sentFor(page, '90 3C 5A')).toEqual({ a, b });
      expect(await sentFor(page, '80 3C 00')).toEqual({
        a: a.map(() => '80 3C 00'),
        b: b.map(() => '80 3C 00'),
      });
    }
    // Closed while a note is held, and opened again.
    await gates('7F', '00');
    expect(await sentFor(page, '90 40 5A')).toEqual({ a: ['90 40 5A'], b: [] });
    await gates('00', '7F');
    await textIs(page, '[data-route]:nth-of-type(1) .gate-sign, .gate-sign', (t) => t === 'closed');
    expect(await sentFor(page, '90 43 5A')).toEqual({ a: [], b: ['90 43 5A'] });
    expect(await sentFor(page, '80 40 00')).toEqual({ a: ['80 40 00'], b: [] });
    await gates('7F', '00');
    expect(await sentFor(page, '80 43 00')).toEqual({ a: [], b: ['80 43 00'] });
    expect(page.troubles).toEqual([]);
  });
});

describe('the same keys on two instruments', () => {
  const inScene = (name: string, index: number, portId: string) =>
    route(name, {
      gate: {
        // Slow Ferry: intro, verse, chorus, bridge and outro.
        by: {
          kind: 'scenes',
          sceneIds: [`0000000c-0000-4000-8000-${(12 + index).toString(16).padStart(12, '0')}`],
        },
        startsOpen: false,
        holds: [],
        others: 'pass',
      },
      to: [{ portId, channel: 3 }],
      after: 'pass',
    });

  it('change with the scene under a held chord with sustain; each note, pedal and bend ends where it began', async () => {
    await keepRouting(
      of(inScene('Verse keys', 1, PORT.crossbarOutA), inScene('Chorus keys', 2, PORT.crossbarOutB)),
    );
    const page = await openBound();
    // Slow Ferry is the fourth song: its verse is the thirteenth scene of the evening.
    let where = '';
    for (let i = 0; i < 13; i++) {
      await page.locator('[data-control="near 5"]').click();
      where = (await textIs(page, '.where', (t) => t !== where))!;
    }
    expect(where).toMatch(/Slow Ferry.*Verse$/);
    const quiet = async () => {
      let before = -1;
      await until(
        'all that the scene sends',
        async () => {
          const now = (await outA(page)).length;
          const isStill = now === before;
          before = now;
          return isStill;
        },
        (still) => still,
      );
    };
    await quiet();
    expect(await sentFor(page, '90 3C 40')).toEqual({ a: ['93 3C 40'], b: [] });
    expect(await sentFor(page, '90 40 40')).toEqual({ a: ['93 40 40'], b: [] });
    expect(await sentFor(page, 'B0 40 7F')).toEqual({ a: ['B3 40 7F'], b: [] });
    expect(await sentFor(page, 'E0 00 50')).toEqual({ a: ['E3 00 50'], b: [] });
    await page.locator('[data-control="near 5"]').click();
    await textIs(page, '.where', (t) => t.endsWith('Chorus'));
    await quiet();
    expect(await sentFor(page, '90 43 40')).toEqual({ a: [], b: ['93 43 40'] });
    expect(await sentFor(page, '80 3C 00')).toEqual({ a: ['83 3C 00'], b: [] });
    expect(await sentFor(page, 'E0 00 40')).toEqual({ a: ['E3 00 40'], b: ['E3 00 40'] });
    expect(await sentFor(page, 'B0 40 00')).toEqual({ a: ['B3 40 00'], b: ['B3 40 00'] });
    expect(await sentFor(page, '80 40 00')).toEqual({ a: ['83 40 00'], b: [] });
    expect(await sentFor(page, '80 43 00')).toEqual({ a: [], b: ['83 43 00'] });
    expect(page.troubles).toEqual([]);
  });
});

describe('four beats between two mixes', () => {
  /** The page's clock, to be set: nothing moves by itself. */
  const STILL = `
    (() => { let now = 1000; performance.now = () => now;
      window.setClock = (ms) => { now = ms; }; })();`;

  it('take 2.40 s at 100 bpm, from where the strips are, exact at the end, at a new tempo half-way', async () => {
    await keepRouting(of(route('Thru', { to: [{ portId: PORT.crossbarOutB, channel: null }] })));
    const page = await openBound();
    await page.evaluateOnNewDocument(STILL);
    const sluice = demoRig.devices.find((d) => d.name === 'Sluice')!.id;
    await page.goto(`${running.app.base}/rig/${sluice}`);
    await textIs(page, '.ports-word', (t) => t === '1 in, 2 out');
    const at = (ms: number) =>
      page.evaluate((t) => (window as unknown as { setClock(ms: number): void }).setClock(1000 + t), ms);
    const level = (expected: number) =>
      until(
        `strip 1 at ${expected}`,
        () =>
          page.evaluate(() =>
            Number(
              /level (\d+)/.exec(
                document.querySelector('[aria-label^="Strip 1:"]')?.ariaLabel ?? 'level 999',
              )![1],
            ),
          ),
        (now) => now === expected,
      );
    await level(100);
    // Strip 1 is on channel 1; memories, times and tempo are on the mixer's own channel 9.
    for (const bytes of ['B0 07 00', 'B8 52 00', 'B0 07 64', 'B8 52 01', 'B8 54 04', 'B8 4C 28'])
      await deliver(page, bytes);
    expect(await outB(page)).toHaveLength(6);
    await level(100);
    await deliver(page, 'C8 00');
    await level(0);
    await deliver(page, 'C8 01');
    await at(1200);
    await level(50);
    await at(2399);
    await level(100);
    await textIs(page, '.gear-said', (t) => t.includes('100 % of the way') || t.includes('mix 2'));
    await at(2400);
    await level(100);
    // From the top again: half-way at 100 bpm, then twice as slow at … 60 bpm: the rest takes 2.00 s.
    await deliver(page, 'C8 00');
    await level(0);
    await deliver(page, 'C8 01');
    await at(2400 + 1200);
    await level(50);
    await deliver(page, 'B8 4C 00');
    await at(2400 + 1200 + 1000);
    await level(75);
    await at(2400 + 1200 + 2000);
    await level(100);
    // A second recall on the way goes on from where the strip is: mix 1 has no time, so give it four beats first.
    await deliver(page, 'C8 00');
    await deliver(page, 'B8 54 04');
    await deliver(page, 'C8 01');
    await at(5600 + 2000);
    await level(50);
    await deliver(page, 'C8 00');
    await at(5600 + 2000 + 2000);
    await level(25);
    await at(5600 + 2000 + 4000);
    await level(0);
  });
});

describe('the trace', () => {
  it('shows every hop of a press, and what is lost with a mend to press', async () => {
    const page = await openPage(running.browser, running.app.base, '/routes/trace');
    await textIs(page, '.trace', (t) => t.includes('Choose what to follow'));
    await drawn(page);
    await choose(page, 'Control', 'Plank 10 far 1');
    await pressButton(page, 'Trace it');
    await textIs(page, '.verdict', (t) => t === 'It arrives.');
    expect(await page.$$eval('.hop', (list) => list.map((h) => (h as HTMLElement).dataset['stage']))).toEqual(
      ['control', 'gesture', 'action', 'message', 'port', 'cable', 'device', 'function', 'effect'],
    );
    expect(await axeViolations(page)).toEqual([]);
    // The port is not enabled for playing.
    await keepRouting(demoRig.routing, (r) => ({
      ...r,
      devices: r.devices.map((d) => ({
        ...d,
        ports: d.ports.map((p) => (p.id === PORT.crossbarOutA ? { ...p, plays: false } : p)),
      })),
    }));
    await page.reload();
    await drawn(page);
    await choose(page, 'Control', 'Plank 10 far 1');
    await pressButton(page, 'Trace it');
    await textIs(page, '.verdict', (t) => t === 'It is lost.');
    await textIs(page, '[data-reason="port-off"]', (t) =>
      t.includes('Crossbar Out A is not enabled for playing'),
    );
    await pressButton(page, 'Enable Crossbar Out A');
    await textIs(page, '.verdict', (t) => t === 'It arrives.');
    await textIs(page, '.save-state', (t) => /^saved \d/.test(t));
    expect((await rig()).devices.flatMap((d) => d.ports).find((p) => p.id === PORT.crossbarOutA)?.plays).toBe(
      true,
    );
    expect(page.troubles).toEqual([]);
  });

  it('follows a typed message, goes back from a function, and says what no route takes in', async () => {
    const page = await openPage(running.browser, running.app.base, '/routes/trace');
    await drawn(page);
    await choose(page, 'Trace', 'a message');
    await choose(page, 'Input', 'Crossbar In 2');
    await fill(page, 'Bytes', 'B0 1E 40');
    await textIs(page, '.hops', (t) => t.includes('Knobs of the old desk') && t.includes('Sluice'));
    await fill(page, 'Bytes', 'B0 63 40');
    await textIs(page, '[data-reason="filtered"]', (t) => t.includes('No route takes in Ch 1 CC 99 = 64'));
    await fill(page, 'Bytes', 'B0 6');
    await textIs(
      page,
      '.trace [role="alert"]',
      (t) => t === 'The last byte has one digit only; each has two.',
    );
    await choose(page, 'Trace', 'back from a function');
    await choose(page, 'Function', 'Kelpline Reverb mix');
    await textIs(
      page,
      '.movers-columns',
      (t) => t.includes('pedal 2, sweep in Crossing') && t.includes('Wash under low notes'),
    );
  });
});

describe('the bench and the replay', () => {
  it('try nothing before the routes in play have come', async () => {
    const lists = new HeldRequests(/\/api\/(presets|sets)\b/);
    const page = await openPage(running.browser, running.app.base, '/routes/bench', lists.hold);
    await textIs(page, '.bench', (t) => t.includes('Fetching the routes in play'));
    await page.locator('.bench .num').click();
    await page.keyboard.press('Enter');
    lists.letCome();
    await page.waitForSelector('.bench .btn-go:not([disabled])');
    expect(await page.$('[data-pair]')).toBeNull();
    await pressButton(page, 'Try');
    await textIs(page, '[data-pair]', (t) => t.includes('80 3C 40'));
    expect(page.troubles).toEqual([]);
  });

  it('show messages before and after, typed and played', async () => {
    const page = await openPage(running.browser, running.app.base, '/routes/bench');
    await drawn(page);
    // Nothing can be tried before the routes have come.
    await page.waitForSelector('.bench .btn-go:not([disabled])');
    await choose(page, 'Input', 'Crossbar In 2');
    await fill(page, 'Bytes', 'B0 1E 40 B0 21 40');
    await textIs(
      page,
      '[data-pair]:nth-child(2)',
      (t) => t.includes('B8 07 40') && t.includes('Crossbar Out B'),
    );
    await textIs(page, '[data-pair]:nth-child(1)', (t) => t.includes('none nothing'));
    // Nothing of it was played.
    await choose(page, 'Messages', 'as they are played');
    await textIs(page, '.bench', (t) => t.includes('Nothing has gone through a route yet'));
    await pressButton(page, 'Play');
    await textIs(page, '[data-pair]', (t) => t.includes('B8 07 40'));
    expect(await axeViolations(page)).toEqual([]);
    expect(page.troubles).toEqual([]);
  });

  it('replay gives the same bytes, at once and step by step', async () => {
    const page = await openPage(running.browser, running.app.base, '/routes/replay');
    await page.waitForSelector('[data-control="near 5"]');
    await page.locator('[data-control="near 5"]').click();
    await textIs(page, '.where', (t) => t.endsWith('Intro'));
    await page.locator('[data-control="far 1"]').click();
    await new Promise((resolve) => setTimeout(resolve, 300));
    await pressButton(page, 'Replay this rehearsal');
    await pressButton(page, 'One step');
    await textIs(page, '.replay', (t) => /: 1 of \d+,/.test(t));
    await choose(page, 'Speed', 'at once');
    await pressButton(page, 'Play');
    await textIs(page, '.verdict', (t) => /^The same bytes: \d+ messages, each at its time\.$/.test(t));
    expect(await axeViolations(page)).toEqual([]);
    expect(page.troubles).toEqual([]);
  });
});

describe('the stand-ins', () => {
  it('are silent at first, are heard when asked to, and fall silent again', async () => {
    const kelpline = demoRig.devices.find((d) => d.name === 'Kelpline')!.id;
    const page = await openPage(running.browser, running.app.base, `/rig/${kelpline}`);
    await pressButton(page, 'Hear the stand-ins');
    await page.waitForSelector('[aria-label="Silence the stand-ins"]');
    await page.locator('[data-control="far 1"]').click();
    await pressButton(page, 'Silence the stand-ins');
    await page.waitForSelector('[aria-label="Hear the stand-ins"]');
    expect(page.troubles).toEqual([]);
  });
});
