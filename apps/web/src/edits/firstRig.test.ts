import type { FullRig } from '@idle-step/core/routing';
import { presetFaults, PresetSchema, RigSchema } from '@idle-step/contract';
import { compileWorld, initialState, step, type LiveState } from '@idle-step/core/engine';
import { BOARD_SHAPES } from '@idle-step/core/floor';
import { controller, encode, hex, noteOn } from '@idle-step/core/midi';
import { describe, expect, it } from 'vitest';
import { withNewDevice } from './newDevice';
import { firstRig, type FirstAnswers } from './firstRig';
import { emptyRig } from './newRig';

const start = (): FullRig => emptyRig('My rig').rig;
const own = { kind: 'own', name: 'My pedal', channel: 2 } as const;

/** What leaves when the first control is pressed, by hardware. */
function pressed(answers: FirstAnswers): string[] {
  const { rig, preset, controlId } = firstRig(start(), answers);
  const world = compileWorld({ rig, presets: preset ? [preset] : [], setName: '', songs: [] });
  const { boardIndex, control } = world.controls.get(controlId!)!;
  const { device, path } = world.boards[boardIndex]!;
  const { number, kind } = control.sends;
  const message =
    kind === 'note' ? noteOn(device.channel, number, 100) : controller(device.channel, number, 127);
  const state: LiveState = initialState(world, 0);
  const { effects } = step(world, state, { kind: 'message', atMs: 0, portId: path!.portId, message });
  return effects.flatMap((e) => (e.kind === 'send' ? [hex(encode(e.message))] : []));
}

const portsOf = (rig: FullRig, deviceId: string | null) =>
  rig.devices
    .find((d) => d.id === deviceId)!
    .ports.map(({ name, direction, link }) => `${name} ${direction} ${link}`);
/** The rig with other gear, added as one adds it later. */
const later = (before: FullRig): [FullRig, string] => {
  const { rig, deviceId } = withNewDevice(before, 'receiver');
  return [rig, deviceId];
};

describe('a first rig', () => {
  it('at the computer gear of one’s own has USB besides the ports of gear that is added later', () => {
    const { rig, targetId } = firstRig(start(), { shape: null, target: own, through: 'computer' });
    expect(portsOf(rig, targetId)).toEqual(['USB in usb', ...portsOf(...later(rig))]);
  });

  it.each(['computer', 'interface'] as const)(
    '%s: the first press recalls the first sound of gear of one’s own',
    (through) => {
      expect(pressed({ shape: 'three-switches', target: own, through })).toEqual(['C2 00']);
    },
  );

  it.each([
    'string-processor',
    'looper',
    'mixer',
    'lights',
    'pad-instrument',
    'backing-player',
    'track-host',
  ] as const)('the first press moves a simulated %s', (kind) => {
    expect(pressed({ shape: 'four-small', target: { kind }, through: 'interface' }).length).toBeGreaterThan(
      0,
    );
  });

  it.each([null, ...BOARD_SHAPES.map((s) => s.kind), 'empty'])(
    'whatever is skipped, the contract takes it: %s',
    (shape) => {
      for (const target of [null, own, { kind: 'looper' as const }])
        for (const through of ['computer', 'interface'] as const) {
          const made = firstRig(start(), { shape, target, through });
          expect(RigSchema.safeParse(made.rig).error?.issues ?? []).toEqual([]);
          if (made.preset) {
            expect(PresetSchema.safeParse(made.preset).error?.issues ?? []).toEqual([]);
            expect(presetFaults(made.rig, made.preset)).toEqual([]);
          }
        }
    },
  );

  it('through an interface its cables are drawn, and the gear is told by its output', () => {
    const { rig, outPortId, targetId } = firstRig(start(), {
      shape: 'three-switches',
      target: own,
      through: 'interface',
    });
    expect(rig.devices.map((d) => d.name)).toEqual(['Switches', 'My pedal', 'Interface']);
    expect(rig.cables).toHaveLength(2);
    expect(portsOf(rig, targetId)).toEqual(portsOf(...later(rig)));
    const world = compileWorld({ rig, presets: [], setName: '', songs: [] });
    expect(world.ways.get(targetId!)!.path?.portId).toBe(outPortId);
  });
});
