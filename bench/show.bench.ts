import type { Preset } from '@idle-step/core/floor';
import { writeFileSync } from 'node:fs';

import { demoControl, demoRig, DEMO_PORT } from '@idle-step/demo';
import { expect, it } from 'vitest';
import { choose, openPage, until, useApp } from '../tests/support/app';
import { plugIn } from '../tests/support/ports';
import { doing } from './doing';

/**
 * Two hours of a show at twenty times its speed, in the page that rehearses: a clock runs all the time, a press comes
 * every three seconds, a pedal moves. How the memory goes, and whether the clock drifts. And how soon the stage is back
 * where it stood after a reload.
 */
const MINUTES = Number(process.env['BENCH_SHOW_MIN'] ?? 120);
const PACE = 20;
const PIECE_MIN = 20;

/** The controller that a control of the foot board sends. */
const numberOf = (name: string): number =>
  demoRig.boards[0]!.controls.find((c) => c.name === name)!.sends.number;
const PRESSED = ['near 1', 'far 2', 'near 2', 'far 3', 'near 3', 'far 4'].map(numberOf);

const running = useApp();

it('two hours of a show', async () => {
  doing('two hours of a show, at twenty times its speed');
  // A switch that runs a MIDI clock.
  const far1 = demoControl('far 1');
  for (const kept of await running.app.get<{ doc: Preset; version: number }[]>('/presets')) {
    const answer = await fetch(`${running.app.base}/api/presets/${kept.doc.id}`, {
      method: 'PUT',
      headers: { 'Content-Type': 'application/json', 'If-Match': `"${kept.version}"` },
      body: JSON.stringify({
        ...kept.doc,
        banks: kept.doc.banks.map((b) => ({
          ...b,
          assignments: b.assignments.map((a) =>
            a.controlId === far1
              ? {
                  ...a,
                  press: [
                    { id: crypto.randomUUID(), kind: 'clock', portId: DEMO_PORT.deckhouseIn, to: 'start' },
                  ],
                }
              : a,
          ),
        })),
      }),
    });
    expect(answer.status).toBe(200);
  }
  const page = await openPage(running.browser, running.app.base, '/rehearse', async (p) => {
    await plugIn(p, { [DEMO_PORT.crossbarIn1]: 'Blue box 1', [DEMO_PORT.deckhouseIn]: 'Laptop bus' });
  });
  await page.waitForSelector('.rehearse .rehearse-tools');
  await page.locator('.stage-set .btn').click();
  await page.waitForSelector('[data-testid="stage-set"]');
  const client = await page.createCDPSession();
  const heapMb = async () => {
    await client.send('HeapProfiler.collectGarbage');
    const { usedSize } = await client.send('Runtime.getHeapUsage');
    return usedSize / (1024 * 1024);
  };
  // What the fake port got is looked at and forgotten, so that it is not what grows.
  const bpm = Number(await page.$eval('.stage-tempo .num', (e) => (e as HTMLElement).innerText));
  const tickMs = 60_000 / bpm / 24;
  const beatMs = 60_000 / bpm;
  await page.evaluate(
    (tickMs, beatMs, pace) => {
      type Sent = { bytes: number[]; timestamp: number }[];
      const w = window as unknown as {
        midiFake: { deliver(name: string, bytes: number[]): void; onSent: (() => void) | null };
        ticks: number;
        stamped: number;
        sleeps: number;
        driftMs: number;
      };
      Object.assign(w, { ticks: 0, stamped: 0, sleeps: 0, driftMs: 0 });
      let last: number | null = null;
      void navigator.requestMIDIAccess({ sysex: true }).then((access) => {
        const outputs = [...(access.outputs as unknown as Map<string, { sent: Sent }>).values()];
        w.midiFake.onSent = () => {
          for (const { sent } of outputs) {
            for (const { bytes, timestamp } of sent) {
              if (bytes[0] !== 0xf8) continue;
              w.ticks++;
              // Only a tick with a stamp says exactly when it is meant; one that came late has none.
              if (timestamp <= 0) continue;
              if (last !== null) {
                const gap = (timestamp - last) * pace;
                w.stamped++;
                // A stall of more than a beat is a sleep: the clock goes on from then.
                if (gap > beatMs) w.sleeps++;
                // How far the ticks have come from the grid that they began on, all of them together.
                else w.driftMs += gap - Math.round(gap / tickMs) * tickMs;
              }
              last = timestamp;
            }
            sent.length = 0;
          }
        };
      });
    },
    tickMs,
    beatMs,
    PACE,
  );
  await choose(page, 'Goes', 'twenty times as fast');
  // The clock begins, and the tempo of the song stays as it is.
  await page.evaluate((number) => {
    const { midiFake } = window as unknown as { midiFake: { deliver(n: string, b: number[]): void } };
    midiFake.deliver('Blue box 1', [0xbf, number, 127]);
    midiFake.deliver('Blue box 1', [0xbf, number, 0]);
  }, numberOf('far 1'));
  const playOnce = (minutes: number) =>
    page.evaluate(
      async (ms, pace, pressed, pedal) => {
        const { midiFake } = window as unknown as { midiFake: { deliver(n: string, b: number[]): void } };
        const begun = performance.now();
        for (let i = 0; performance.now() - begun < ms / pace; i++) {
          // Switches of scenes and toggles in turn; and a pedal a little further.
          const number = pressed[i % pressed.length]!;
          midiFake.deliver('Blue box 1', [0xbf, number, 127]);
          midiFake.deliver('Blue box 1', [0xbf, number, 0]);
          for (let k = 0; k < 4; k++) midiFake.deliver('Blue box 1', [0xbf, pedal, (i * 7 + k) & 127]);
          await new Promise((resolve) => setTimeout(resolve, 3000 / pace));
        }
      },
      minutes * 60_000,
      PACE,
      PRESSED,
      numberOf('pedal 1'),
    );
  // In pieces: one call into the page may not take for ever.
  const play = async (minutes: number) => {
    for (let left = minutes; left > 0; left -= PIECE_MIN) await playOnce(Math.min(left, PIECE_MIN));
  };
  await play(MINUTES / 6);
  const heapBefore = await heapMb();
  await play(MINUTES);
  const heapAfter = await heapMb();
  const { ticks, stamped, sleeps, driftMs } = await page.evaluate(() => {
    const w = window as unknown as { ticks: number; stamped: number; sleeps: number; driftMs: number };
    return { ticks: w.ticks, stamped: w.stamped, sleeps: w.sleeps, driftMs: w.driftMs };
  });
  expect(stamped).toBeGreaterThan(0);
  const figures: Record<string, number> = {
    showMinutes: MINUTES,
    showHeapBeforeMb: heapBefore,
    showHeapAfterMb: heapAfter,
    showDriftMs: driftMs,
    showTicks: ticks,
    showSleeps: sleeps,
  };
  // Back after a reload, from the start of the page.
  const back: number[] = [];
  const before = await page.$eval('.now-text', (e) => (e as HTMLElement).innerText);
  for (let i = 0; i < 3; i++) {
    await new Promise((resolve) => setTimeout(resolve, 600));
    await page.reload();
    await until(
      'back',
      () => page.$eval('.now-text', (e) => (e as HTMLElement).innerText).catch(() => ''),
      (text) => text === before,
      20_000,
    );
    back.push(await page.evaluate(() => performance.now()));
  }
  figures['showBackMs'] = Math.max(...back);
  if (process.env['BENCH_OUT']) writeFileSync(`${process.env['BENCH_OUT']}.show`, JSON.stringify(figures));
  else console.log(figures);
  expect(page.troubles).toEqual([]);
}, 1_200_000);
