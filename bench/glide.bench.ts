import type { Preset } from '@idle-step/core/floor';
import { writeFileSync } from 'node:fs';

import { compileWorld, initialState, step, type LiveEvent } from '@idle-step/core/engine';
import { encode, StreamParser } from '@idle-step/core/midi';
import { demoControl, demoRig, DEMO_PORT } from '@idle-step/demo';
import { expect, it } from 'vitest';
import { HANDED_AHEAD_MS } from '../apps/web/src/live/clock';
import { openPage, useApp } from '../tests/support/app';
import { plugIn } from '../tests/support/ports';
import { at, FLOOD, type Flood } from './flood';
import { watchStolen } from './stolen';
import { doing } from './doing';

/**
 * When the messages of a glide leave the stage, against when the core alone plans them, from the stamp of the press that
 * begins it; while the monitor takes 500 messages a second. A message that is handed over with a stamp leaves at that.
 * The figures are those of the messages before which the host took nothing from the machine.
 */
const GLIDES = Number(process.env['BENCH_GLIDES'] ?? 30);
const SECONDS = 2;
/** A glide begins when the one before is over, ms. */
const EVERY_MS = SECONDS * 1000 + 400;

const running = useApp();

const host = demoRig.devices.find((d) => d.ports.some((p) => p.id === DEMO_PORT.deckhouseIn))!;
const fader = host.chart.find((f) => f.drive.kind === 'controller' && f.shape.kind === 'range')!;
const far1 = demoRig.boards[0]!.controls.find((c) => c.name === 'far 1')!;
const PRESS = [0xbf, far1.sends.number, 127];

const withGlide = (doc: Preset): Preset => ({
  ...doc,
  banks: doc.banks.map((b) => ({
    ...b,
    assignments: b.assignments.map((a) =>
      a.controlId === demoControl('far 1')
        ? {
            ...a,
            press: [
              {
                id: crypto.randomUUID(),
                kind: 'ramp',
                functionId: fader.id,
                from: 0,
                to: 127,
                time: { amount: SECONDS, unit: 's' },
                curve: 'linear',
              },
            ],
          }
        : a,
    ),
  })),
});

type Leaving = { readonly bytes: string; readonly afterMs: number };

/** What a press of the switch sends to the host's port, by the core alone, in ms after the press. */
function plan(presets: readonly Preset[]): Leaving[] {
  const world = compileWorld({ rig: demoRig, presets, setName: '', songs: [] });
  let state = initialState(world, 0);
  const planned: Leaving[] = [];
  const take = (event: LiveEvent) => {
    const done = step(world, state, event);
    state = done.state;
    for (const e of done.effects)
      if (e.kind === 'send' && e.portId === DEMO_PORT.deckhouseIn)
        planned.push({ bytes: encode(e.message).join(' '), afterMs: e.atMs });
  };
  new StreamParser({
    message: (message) => take({ kind: 'message', atMs: 0, portId: DEMO_PORT.crossbarIn1, message }),
    fault: () => expect.unreachable(),
  }).push(PRESS);
  for (let atMs = 0; atMs <= EVERY_MS; atMs++) take({ kind: 'tick', atMs });
  return planned;
}

it(
  'glides leave as planned',
  async () => {
    doing('glides');
    const presets: Preset[] = [];
    for (const kept of await running.app.get<{ doc: Preset; version: number }[]>('/presets')) {
      const doc = withGlide(kept.doc);
      presets.push(doc);
      const answer = await fetch(`${running.app.base}/api/presets/${doc.id}`, {
        method: 'PUT',
        headers: { 'Content-Type': 'application/json', 'If-Match': `"${kept.version}"` },
        body: JSON.stringify(doc),
      });
      expect(answer.status).toBe(200);
    }
    const page = await openPage(running.browser, running.app.base, '/stage', async (p) => {
      await p.setBypassCSP(true);
      await p.evaluateOnNewDocument(FLOOD);
      await plugIn(p, { [DEMO_PORT.crossbarIn1]: 'Blue box 1', [DEMO_PORT.deckhouseIn]: 'Laptop bus' });
    });
    await page.waitForSelector('.stage-foot');
    // The first visit of all keeps the application in the browser, which is over before somebody plays.
    await page.evaluate(async () => void (await navigator.serviceWorker.ready));
    await new Promise((resolve) => setTimeout(resolve, 1500));
    const stolen = watchStolen();
    const left = await page.evaluate(
      async (wanted, pressed) => {
        type Output = { name: string; sent: { bytes: number[]; timestamp: number }[] };
        const { midiFake, flood } = window as unknown as {
          flood: Flood;
          midiFake: {
            deliver(name: string, bytes: number[], atMs?: number): void;
            onSent: (() => void) | null;
          };
        };
        const access = await navigator.requestMIDIAccess({ sysex: true });
        const output = [...(access.outputs as unknown as Map<string, Output>).values()].find(
          (o) => o.name === 'Laptop bus',
        )!;
        const glides: { pressedMs: number; sent: { bytes: string; afterMs: number }[] }[] = [];
        let pressedAt = 0;
        midiFake.onSent = () => {
          const now = performance.now();
          for (const { bytes, timestamp } of output.sent)
            glides
              .at(-1)
              ?.sent.push({ bytes: bytes.join(' '), afterMs: Math.max(now, timestamp) - pressedAt });
          output.sent.length = 0;
        };
        await new Promise<void>((resolve) => {
          const worker = flood(pressed, (atMs, bytes, isPress) => {
            if (isPress) {
              if (glides.length === wanted) {
                worker.terminate();
                resolve();
                return;
              }
              pressedAt = atMs;
              glides.push({ pressedMs: performance.timeOrigin + atMs, sent: [] });
            }
            midiFake.deliver('Blue box 1', bytes, atMs);
          });
          window.setTimeout(resolve, (wanted + 2) * pressed.everyMs * 2);
        });
        return glides;
      },
      GLIDES,
      { numbers: [far1.sends.number], everyMs: EVERY_MS },
    );
    stolen.stop();
    const planned = plan(presets);
    expect(planned.length).toBeGreaterThan(50);
    const isOfGlide = ({ bytes }: Leaving) => planned.some((p) => p.bytes === bytes);
    /** The first leaves with the press itself, the others are planned. */
    const [first, ...others] = planned;
    /** How far off its plan each message left, in ms; infinite where it did not. */
    const pressOff: number[] = [];
    const all: number[] = [];
    const undisturbed: number[] = [];
    for (const { pressedMs, sent } of left) {
      const said = sent.filter(isOfGlide);
      const offOf = (p: Leaving): number => {
        const found = said.find((s) => s.bytes === p.bytes);
        return found ? Math.abs(found.afterMs - p.afterMs) : Infinity;
      };
      pressOff.push(offOf(first!));
      for (const p of others) {
        const off = offOf(p);
        all.push(off);
        const dueMs = pressedMs + p.afterMs;
        if (!stolen.isStolen(dueMs - HANDED_AHEAD_MS, dueMs)) undisturbed.push(off);
      }
    }
    const figures = {
      glideMessages: undisturbed.length,
      glideUndisturbedPercent: (100 * undisturbed.length) / all.length,
      glideMissing: undisturbed.filter((off) => off === Infinity).length,
      glideP99Ms: at(undisturbed, 0.99),
      glideWorstMs: at(undisturbed, 1),
      glideP99OfAllMs: at(all, 0.99),
      glideOffOfAll: all.filter((off) => off > 2).length,
      glidePressWorstMs: at(pressOff, 1),
    };
    expect(left).toHaveLength(GLIDES);
    if (process.env['BENCH_OUT']) writeFileSync(`${process.env['BENCH_OUT']}.glide`, JSON.stringify(figures));
    else console.log(figures);
    expect(page.troubles).toEqual([]);
  },
  120_000 + GLIDES * EVERY_MS * 3,
);
