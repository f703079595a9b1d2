import { writeFileSync } from 'node:fs';
import type { Page } from 'puppeteer-core';
import { expect, it } from 'vitest';
import { useApp } from '../tests/support/app';
import { openBound } from './openBound';
import { doing } from './doing';

/**
 * The monitor at a thousand messages a second for a minute, in the page with the whole demo rig: whether its record is
 * whole, how even the frames are, and how the memory goes.
 */
const PER_SECOND = 1000;
const SECONDS = Number(process.env['BENCH_SECONDS'] ?? 60);

const running = useApp();

it('the monitor under load', async () => {
  doing('the monitor under load');
  const page = await openBound(running, '/rig', [['Crossbar', 'In 1', 'Blue box 1']]);
  await page.waitForSelector('.drawer');
  const client = await page.createCDPSession();
  const heapMb = async () => {
    await client.send('HeapProfiler.collectGarbage');
    const { usedSize } = await client.send('Runtime.getHeapUsage');
    return usedSize / (1024 * 1024);
  };
  const load = (seconds: number) =>
    page.evaluate(
      async (n, perSecond) => {
        const { midiFake } = window as unknown as {
          midiFake: { deliver(name: string, bytes: number[]): void };
        };
        const frames: number[] = [];
        let last = performance.now();
        let isOn = true;
        const frame = (now: number) => {
          frames.push(now - last);
          last = now;
          if (isOn) requestAnimationFrame(frame);
        };
        requestAnimationFrame(frame);
        const begun = performance.now();
        let sent = 0;
        while (sent < n) {
          const due = Math.min(n, Math.floor(((performance.now() - begun) * perSecond) / 1000) + 1);
          for (; sent < due; sent++) midiFake.deliver('Blue box 1', [0xb0, (sent >> 7) & 127, sent & 127]);
          await new Promise((resolve) => setTimeout(resolve, 1));
        }
        isOn = false;
        return { frames: frames.slice(1), ms: performance.now() - begun };
      },
      seconds * PER_SECOND,
      PER_SECOND,
    );
  // Warm: the ring of lines is full before the memory is looked at.
  await load(12);
  const heapBefore = await heapMb();
  const recordedBefore = await recorded(page);
  const { frames, ms } = await load(SECONDS);
  const heapAfter = await heapMb();
  const count = (await recorded(page)) - recordedBefore;
  frames.sort((a, b) => a - b);
  const at = (share: number) => frames[Math.min(frames.length - 1, Math.floor(frames.length * share))]!;
  const figures = {
    monitorMessages: count,
    monitorExpected: SECONDS * PER_SECOND,
    monitorSeconds: ms / 1000,
    monitorFrames: frames.length,
    monitorFrameP50Ms: at(0.5),
    monitorFrameP95Ms: at(0.95),
    monitorFrameP99Ms: at(0.99),
    monitorHeapBeforeMb: heapBefore,
    monitorHeapAfterMb: heapAfter,
  };
  if (process.env['BENCH_OUT']) writeFileSync(process.env['BENCH_OUT'], JSON.stringify(figures));
  expect(count).toBe(SECONDS * PER_SECOND);
});

/** Lines that were ever recorded, as the monitor says when it was drawn last. */
async function recorded(page: Page): Promise<number> {
  // The last lines of a flood are drawn within two seconds.
  await new Promise((resolve) => setTimeout(resolve, 3000));
  return page.$eval('.drawer', (e) => Number((e as HTMLElement).dataset['recorded']));
}
