import {
  compileWorld,
  initialState,
  stateKey,
  step,
  type LiveEvent,
  type LiveState,
} from '@idle-step/core/engine';
import { isPressed } from '@idle-step/core/floor';
import { expect, it } from 'vitest';
import { demoPresets, demoRig, demoSets, demoSongs } from './index';

/** A song that has five scenes, a program and toggles. */
const song = demoSongs.find((s) => s.name === 'Slow Ferry')!;
const world = compileWorld({ rig: demoRig, presets: demoPresets, setName: demoSets[0]!.name, songs: [song] });
/** Scenes, songs, banks and three toggles; each toggle more makes it three times as many. */
const PRESSED = ['near 1', 'near 2', 'near 3', 'near 4', 'near 5', 'far 1', 'far 2', 'far 3'];
const switches = demoRig.boards.flatMap((b) =>
  b.controls.filter((c) => isPressed(c.kind) && PRESSED.includes(c.name)),
);

/** The state after a switch was pressed and let go, once nothing moves any more. */
function pressed(from: LiveState, controlId: string): LiveState {
  let state = from;
  let wakeMs = Infinity;
  const run = (event: LiveEvent) => {
    const done = step(world, state, event);
    state = done.state;
    wakeMs = done.effects.reduce((at, e) => (e.kind === 'wake' ? e.atMs : at), Infinity);
  };
  const { atMs } = from;
  run({ kind: 'command', atMs, command: { kind: 'switch', controlId, velocity: 127 } });
  run({ kind: 'command', atMs: atMs + 50, command: { kind: 'switch', controlId, velocity: 0 } });
  for (let i = 0; i < 3000 && wakeMs <= atMs + 30_000; i++) run({ kind: 'tick', atMs: wakeMs });
  run({ kind: 'tick', atMs: Math.max(state.atMs, atMs + 30_000) });
  return state;
}

it('the states of the demo close: presses lead to a few hundred, however long one goes on', () => {
  const seen = new Set<string>();
  const waiting = [initialState(world, 0)];
  for (let state = waiting.shift(); state && seen.size < 5000; state = waiting.shift()) {
    const key = stateKey(world, state);
    if (seen.has(key)) continue;
    seen.add(key);
    for (const { id } of switches) waiting.push(pressed(state, id));
  }
  expect(waiting).toHaveLength(0);
  expect(seen.size).toBeGreaterThan(100);
  expect(seen.size).toBeLessThan(5000);
});
