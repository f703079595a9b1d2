import { demoPresets, demoRig, demoSongs } from '@idle-step/demo';
import { compileWorld, type Show } from '@idle-step/core/engine';
import { describe, expect, it } from 'vitest';
import { warmUp } from './warmUp';

const show: Show = { rig: demoRig, presets: demoPresets, setName: '', songs: demoSongs.slice(0, 2) };

/** Idle moments in turn, each of which leaves as many milliseconds as it is told. */
async function pieces(world: Parameters<typeof warmUp>[0], leftMs: number): Promise<number> {
  let count = 0;
  await warmUp(world, (run) => {
    count++;
    run(() => leftMs);
  });
  return count;
}

describe('warming up', () => {
  it('is done in pieces, and gives the page back as soon as an idle moment is over', async () => {
    const world = compileWorld(show);
    const before = JSON.stringify(world.show);
    expect(await pieces(world, 10)).toBe(150);
    expect(await pieces(world, 0)).toBe(3000);
    expect(JSON.stringify(world.show)).toBe(before);
  });

  it('has nothing to do where nothing can be pressed', async () => {
    expect(await pieces(compileWorld({ ...show, rig: { ...demoRig, boards: [] } }), 10)).toBe(0);
  });
});
