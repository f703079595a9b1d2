import { showOfSet, type Show } from '@idle-step/core/engine';
import { applied, type Json } from '@idle-step/core/edits';
import {
  begunEvening,
  breaksOf,
  drained,
  footGraph,
  GRAPH_LIMITS,
  pressPlan,
  worldOfFeet,
  type Break,
} from '@idle-step/core/proof';
import { there } from '@idle-step/core/sure';
import { describe, expect, it } from 'vitest';
import { demoPresets, demoRig, demoSets, demoSongs } from './index';

const show = { rig: demoRig, presets: demoPresets, ...showOfSet(demoSets[1]!, demoSongs) };
const parts = worldOfFeet(show).songs.reduce((n, s) => n + s.parts.length, 0);
const scenes = worldOfFeet(show).songs.reduce((n, s) => n + s.song.scenes.length, 0);
const all = drained(breaksOf(show, GRAPH_LIMITS));
const without = (name: string): Break => there(all.find((b) => b.name === name));
const openIn = (evening: Show): number => {
  const world = worldOfFeet(evening);
  return pressPlan(world, drained(footGraph(world, begunEvening(world)))).open;
};

describe('the evening with one thing taken away', () => {
  it('names each thing once', () => {
    expect(new Set(all.map((b) => `${b.kind} ${b.id}`)).size).toBe(all.length);
    expect(all.map((b) => b.name)).toContain('the cable from Crossbar Out A to Kelpline In');
    // What is packed away cannot break.
    expect(all.some((b) => b.kind === 'board' && b.name === 'Tiller 25')).toBe(false);
  });

  it('names boards, gear, cables, ports at the computer, and pedals that move something', () => {
    const named = (kind: Break['kind']) => all.flatMap((b) => (b.kind === kind ? [b.name] : []));
    expect(named('board')).toEqual(['Plank 10', 'Twig 4']);
    expect(named('device').slice(0, 3)).toEqual(['Crossbar', 'Bollard', 'Kelpline']);
    expect(named('cable')).toHaveLength(demoRig.cables.length);
    expect(named('port')).toHaveLength(
      demoRig.devices.flatMap((d) => d.ports).filter((p) => p.atComputer).length,
    );
    expect(named('pedal')).toEqual(['Plank 10 pedal 1', 'Plank 10 pedal 2']);
  });

  it('names a pedal for its ends alone, and none that does nothing', () => {
    const pedal = (name: string) =>
      there(demoRig.boards.flatMap((b) => b.controls).find((c) => c.name === name));
    const [sweeper, ends] = [pedal('pedal 1'), pedal('pedal 2')];
    const presets = demoPresets.map((p) => ({
      ...p,
      banks: p.banks.map((b) => ({
        ...b,
        assignments: b.assignments.flatMap((a) => {
          if (a.controlId === sweeper.id) return [];
          const press = [{ id: 'end-next', kind: 'scene', to: { kind: 'next' } } as const];
          return [a.controlId === ends.id ? { ...a, sweeps: [], press } : a];
        }),
      })),
    }));
    const found = drained(breaksOf({ ...show, presets }, GRAPH_LIMITS));
    expect(found.flatMap((b) => (b.kind === 'pedal' ? [[b.name, b.unmoved]] : []))).toEqual([
      ['Plank 10 pedal 2', []],
    ]);
  });

  it('offers a switch that is free before the hold of one that is not', () => {
    const twig = there(demoRig.boards.find((b) => b.controls.some((c) => c.name === 'switch 4')));
    const free = there(twig.controls.find((c) => c.name === 'switch 2'));
    const presets = demoPresets.map((p) =>
      p.id === twig.presetId
        ? {
            ...p,
            banks: p.banks.map((b) => ({
              ...b,
              assignments: b.assignments.filter((a) => a.controlId !== free.id),
            })),
          }
        : p,
    );
    const board = there(
      drained(breaksOf({ ...show, presets }, GRAPH_LIMITS)).find((b) => b.name === 'Plank 10'),
    );
    expect(board.mend?.text).toBe('Put Next on switch 2 of Twig 4');
    // The other presets stay as they are.
    expect(board.mend?.documentId).toBe(twig.presetId);
  });

  it.each([
    ['Kelpline', scenes],
    ['the cable from Crossbar Out A to Kelpline In', scenes],
    ['the port Crossbar Out A', scenes],
    ['Deckhouse', scenes],
    ['Roundel', 0],
    ['the port Crossbar In 2', 0],
    ['Twig 4', 0],
  ])('without %s %d scenes lose something, and feet get everywhere', (name, count) => {
    const found = without(name);
    expect([found.scenes.length, found.openParts, found.presses]).toEqual([count, 0, parts - 1]);
  });

  it.each(['Plank 10', 'the cable from Plank 10 Out to Crossbar In 1', 'the port Crossbar In 1'])(
    'without %s feet do not get everywhere, and what is offered bears it',
    (name) => {
      const found = without(name);
      expect([found.openParts > 0, found.presses]).toEqual([true, null]);
      const mend = there(found.mend);
      const presets = demoPresets.map((p) =>
        p.id === mend.documentId ? (applied(p as unknown as Json, mend.changes) as unknown as typeof p) : p,
      );
      const cut = {
        ...show,
        rig: {
          ...demoRig,
          cables: demoRig.cables.filter((c) => c.fromPortId !== demoRig.devices[0]!.ports[0]!.id),
        },
      };
      expect(openIn(cut)).toBe(found.openParts);
      expect(openIn({ ...cut, presets })).toBe(0);
    },
  );

  it('says what a pedal moved', () => {
    const pedal = without('Plank 10 pedal 2');
    const names = demoRig.devices.flatMap((d) =>
      d.chart.filter((f) => pedal.unmoved.includes(f.id)).map((f) => f.name),
    );
    expect([pedal.kind, names, pedal.openParts]).toEqual(['pedal', ['Reverb mix'], 0]);
  });

  it('offers another cable where an output is free', () => {
    const spare = {
      ...demoRig.devices.find((d) => d.name === 'Crossbar')!.ports.find((p) => p.name === 'Out B')!,
      id: 'out-c',
      name: 'Out C',
    };
    const rig = {
      ...demoRig,
      devices: demoRig.devices.map((d) => (d.name === 'Crossbar' ? { ...d, ports: [...d.ports, spare] } : d)),
    };
    const found = drained(breaksOf({ ...show, rig }, GRAPH_LIMITS));
    const port = there(found.find((b) => b.name === 'the port Crossbar Out A'));
    expect([port.scenes.length > 0, port.mend?.text]).toEqual([true, 'Cable Kelpline In to Crossbar Out C']);
    const mended = applied(rig as unknown as Json, there(port.mend).changes) as unknown as typeof rig;
    const again = drained(breaksOf({ ...show, rig: mended }, GRAPH_LIMITS));
    expect(again.find((b) => b.name === 'the port Crossbar Out A')?.scenes).toEqual([]);
    // Nothing is free in the demo itself.
    expect(without('the port Crossbar Out A').mend).toBeNull();
    expect(without('the cable from Crossbar Out A to Kelpline In').mend).toBeNull();
  });

  it('does not count as lost what nothing led to before', () => {
    const rig = {
      ...demoRig,
      cables: demoRig.cables.filter(
        (c) => c.toPortId !== demoRig.devices.find((d) => d.name === 'Kelpline')!.ports[0]!.id,
      ),
    };
    const found = drained(breaksOf({ ...show, rig }, GRAPH_LIMITS));
    expect(found.find((b) => b.name === 'Kelpline')?.scenes).toEqual([]);
    expect(found.find((b) => b.name === 'Deckhouse')?.scenes).toHaveLength(scenes);
  });
});
