import type { FullRig } from '@idle-step/core/routing';
import { RigSchema } from '@idle-step/contract';
import { compileWorld } from '@idle-step/core/engine';
import { demoRig, DEMO_PORT } from '@idle-step/demo';
import { describe, expect, it } from 'vitest';
import { withNewBoard } from './boardEdits';
import { wayIn } from './wayIn';

// Tiller is packed away; with its cable out of it, the second input of the interface is free.
const freed: FullRig = {
  ...demoRig,
  cables: demoRig.cables.filter((c) => c.toPortId !== DEMO_PORT.crossbarIn2),
};
const { rig, deviceId } = withNewBoard(freed, 'three-switches', false);
const board = rig.devices.find((d) => d.id === deviceId)!;
const usb = board.ports[0]!.id;
const nothingBound = () => null;
const arrivesAt = (r: FullRig) =>
  compileWorld({ rig: r, presets: [], setName: '', songs: [] }).boards.find((b) => b.device.id === deviceId)!
    .path?.portId;

describe('the way in of a board that was learned', () => {
  it('is there where the board is heard', () => {
    expect(wayIn(rig, board, { kind: 'port', portId: usb }, nothingBound)).toEqual({ kind: 'there' });
  });

  it('is bound by itself where an input that nothing has was heard, and the board has none', () => {
    expect(wayIn(rig, board, { kind: 'input', name: 'Grey 3' }, nothingBound)).toEqual({
      kind: 'sure',
      sentence: '“Grey 3” is bound to Switches USB.',
      change: { bind: { portId: usb, input: 'Grey 3' }, unbind: null, edit: null },
    });
  });

  it('is asked about where the board has another one', () => {
    const way = wayIn(rig, board, { kind: 'input', name: 'Grey 3' }, () => 'Red 1');
    expect(way).toMatchObject({
      kind: 'asked',
      sentence: 'It came from “Grey 3”, and Switches USB is bound to “Red 1”.',
    });
  });

  it('at an interface: the cable is drawn, or the board is bound itself, and then it is heard', () => {
    const came = { kind: 'port', portId: DEMO_PORT.crossbarIn2 } as const;
    const way = wayIn(rig, board, came, (id) => (id === DEMO_PORT.crossbarIn2 ? 'Grey 3' : null));
    if (way.kind !== 'asked') throw new Error(way.kind);
    expect(way.offers.map((o) => o.text)).toEqual([
      'Draw the cable from Switches to Crossbar In 2',
      '“Grey 3” is Switches itself: bind it to Switches USB',
    ]);
    const cabled = way.offers[0]!.change.edit!(rig);
    expect(RigSchema.safeParse(cabled).error?.issues ?? []).toEqual([]);
    expect(arrivesAt(rig)).toBe(usb);
    expect(arrivesAt(cabled)).toBe(DEMO_PORT.crossbarIn2);
    expect(way.offers[1]!.change).toMatchObject({
      bind: { portId: usb, input: 'Grey 3' },
      unbind: DEMO_PORT.crossbarIn2,
    });
  });

  it('offers no cable where the input has one already', () => {
    const way = wayIn(rig, board, { kind: 'port', portId: DEMO_PORT.crossbarIn1 }, () => 'Grey 3');
    expect(way.kind === 'asked' && way.offers.map((o) => o.text)).toEqual([
      '“Grey 3” is Switches itself: bind it to Switches USB',
    ]);
  });

  it('a board that no cable leads from is plugged into the computer', () => {
    const apart: FullRig = {
      ...rig,
      devices: rig.devices.map((d) =>
        d.id === deviceId ? { ...d, ports: d.ports.map((p) => ({ ...p, atComputer: false })) } : d,
      ),
    };
    const alone = apart.devices.find((d) => d.id === deviceId)!;
    const way = wayIn(apart, alone, { kind: 'input', name: 'Grey 3' }, nothingBound);
    if (way.kind !== 'asked') throw new Error(way.kind);
    expect(arrivesAt(apart)).toBeUndefined();
    expect(arrivesAt(way.offers[0]!.change.edit!(apart))).toBe(usb);
  });
});
