import { writeFileSync } from 'node:fs';
import type { PresetDoc } from '@idle-step/contract';
import { compileWorld, initialState, step, type LiveEvent } from '@idle-step/core/engine';
import { encode, StreamParser } from '@idle-step/core/midi';
import { demoControl, demoRig, DEMO_PORT } from '@idle-step/demo';
import { expect, it } from 'vitest';
import { openPage, useApp } from '../tests/support/app';
import { plugIn } from '../tests/support/ports';

/**
 * When the messages of a glide leave the stage, against when the core alone plans them, from the stamp of the press that
 * begins it; while the monitor takes 500 messages a second. A message that is handed over with a stamp leaves at that.
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

const withGlide = (doc: PresetDoc): PresetDoc => ({
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
function plan(presets: readonly PresetDoc[]): Leaving[] {
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

/** A flood of other messages, and a press now and then, each with its stamp. */
const WORKER = `
  let n = 0, begun = performance.now(), presses = 0;
  setInterval(() => {
    const now = performance.now();
    const due = Math.floor((now - begun) / 2);
    for (; n < due; n++) postMessage({ at: performance.timeOrigin + now, bytes: [0xb0, (n >> 7) & 31, n & 127] });
    if (now - begun > presses * ${EVERY_MS}) {
      presses++;
      postMessage({ at: performance.timeOrigin + performance.now(), bytes: ${JSON.stringify(PRESS)}, isPress: true });
      postMessage({ at: performance.timeOrigin + performance.now(), bytes: ${JSON.stringify([...PRESS.slice(0, 2), 0])} });
    }
  }, 1);
`;

const at = (list: readonly number[], share: number): number =>
  [...list].sort((a, b) => a - b)[Math.min(list.length - 1, Math.floor(list.length * share))]!;

it(
  'glides leave as planned',
  async () => {
    const presets: PresetDoc[] = [];
    for (const kept of await running.app.get<{ doc: PresetDoc; version: number }[]>('/presets')) {
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
      await plugIn(p, { [DEMO_PORT.crossbarIn1]: 'Blue box 1', [DEMO_PORT.deckhouseIn]: 'Laptop bus' });
    });
    await page.waitForSelector('.stage-foot');
    await new Promise((resolve) => setTimeout(resolve, 1500));
    const left = await page.evaluate(
      async (source, wanted, everyMs) => {
        type Output = { name: string; sent: { bytes: number[]; timestamp: number }[] };
        const { midiFake } = window as unknown as {
          midiFake: {
            deliver(name: string, bytes: number[], atMs?: number): void;
            onSent: (() => void) | null;
          };
        };
        const access = await navigator.requestMIDIAccess({ sysex: true });
        const output = [...(access.outputs as unknown as Map<string, Output>).values()].find(
          (o) => o.name === 'Laptop bus',
        )!;
        const glides: { bytes: string; afterMs: number }[][] = [];
        let pressedAt = 0;
        midiFake.onSent = () => {
          const now = performance.now();
          for (const { bytes, timestamp } of output.sent)
            glides.at(-1)?.push({ bytes: bytes.join(' '), afterMs: Math.max(now, timestamp) - pressedAt });
          output.sent.length = 0;
        };
        const worker = new Worker(URL.createObjectURL(new Blob([source])));
        await new Promise<void>((resolve) => {
          worker.onmessage = ({ data }: MessageEvent<{ at: number; bytes: number[]; isPress?: boolean }>) => {
            const atMs = data.at - performance.timeOrigin;
            if (data.isPress) {
              if (glides.length === wanted) {
                worker.terminate();
                resolve();
                return;
              }
              pressedAt = atMs;
              glides.push([]);
            }
            midiFake.deliver('Blue box 1', data.bytes, atMs);
          };
          window.setTimeout(resolve, (wanted + 2) * everyMs * 2);
        });
        return glides;
      },
      WORKER,
      GLIDES,
      EVERY_MS,
    );
    const planned = plan(presets);
    expect(planned.length).toBeGreaterThan(50);
    const isOfGlide = ({ bytes }: Leaving) => planned.some((p) => p.bytes === bytes);
    const off: number[] = [];
    const figures: Record<string, number> = { glideMessages: 0, glideMissing: 0 };
    for (const glide of left) {
      const said = glide.filter(isOfGlide);
      figures['glideMessages']! += said.length;
      for (const p of planned) {
        const found = said.find((s) => s.bytes === p.bytes);
        if (found) off.push(Math.abs(found.afterMs - p.afterMs));
        else figures['glideMissing']!++;
      }
    }
    figures['glideP50Ms'] = at(off, 0.5);
    figures['glideP99Ms'] = at(off, 0.99);
    figures['glideWorstMs'] = at(off, 1);
    expect(left).toHaveLength(GLIDES);
    if (process.env['BENCH_OUT']) writeFileSync(`${process.env['BENCH_OUT']}.glide`, JSON.stringify(figures));
    else console.log(figures);
    expect(page.troubles).toEqual([]);
  },
  120_000 + GLIDES * EVERY_MS * 3,
);
