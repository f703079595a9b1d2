import { compileWorld, type LiveNote } from '@idle-step/core/engine';
import { milliseconds, noteSentence } from '@idle-step/core/proof';
import { describe, expect, it } from 'vitest';
import { demoPresets, demoRig, demoSongs } from './index';

const world = compileWorld({ rig: demoRig, presets: demoPresets, setName: '', songs: demoSongs });
const empty = compileWorld({
  rig: { ...demoRig, devices: [], cables: [], boards: [], routing: { lines: [], routes: [], othersTo: [] } },
  presets: [],
  setName: '',
  songs: [],
});
const device = demoRig.devices.find((d) => d.name === 'Kelpline')!;
const fn = device.chart[0]!;
const pedal = demoRig.boards[0]!.controls.find((c) => c.kind === 'expression-pedal')!;

describe('a note of the engine in words', () => {
  it('of panic names every port with the channels that it silences', () => {
    const sentence = noteSentence({ code: 'panic' }, world);
    for (const [portId, channels] of world.channelsBehind) {
      const port = demoRig.devices
        .flatMap((d) => d.ports.map((p) => ({ p, d })))
        .find(({ p }) => p.id === portId)!;
      expect(sentence).toContain(`${port.d.name} ${port.p.name}, channel`);
      for (const { channel } of channels) expect(sentence).toMatch(new RegExp(`\\b${channel + 1}\\b`));
    }
    expect(noteSentence({ code: 'panic' }, empty)).toBe('Panic: notes ended, dampers lifted.');
  });

  it('of panic says which channels keep their tails', () => {
    const devices = demoRig.devices.map((d) => (d === device ? { ...d, soundOffAtPanic: false } : d));
    const sparing = compileWorld({ ...world.show, rig: { ...demoRig, devices } });
    const [cut, spared] = noteSentence({ code: 'panic' }, sparing).split('; only all notes off at ');
    expect(cut).toMatch(/^Panic: notes ended, dampers lifted, all sound off at /);
    expect(spared).toMatch(new RegExp(`, channel ${device.channel + 1}\\.$`));
  });

  it.each([
    [
      { code: 'value-refused', functionId: fn.id, value: 300 },
      `Kelpline ${fn.name} does not take 300. Choose a value that it has.`,
    ],
    [
      { code: 'value-refused', functionId: 'gone', value: 1 },
      'a function that is gone does not take 1. Choose a value that it has.',
    ],
    [{ code: 'no-such-scene', index: 8, sceneCount: 3 }, 'There is no scene 9 in this song; it has 3.'],
    [
      { code: 'port-off', portId: 'gone', functionId: null },
      'a port that is gone is not enabled for playing, so nothing passes it. Mend it in Rig, under Ports.',
    ],
    [
      { code: 'recalled', songIndex: 0, sceneIndex: 0, settlesInMs: 1234.5 },
      `${demoSongs[0]!.name}, ${demoSongs[0]!.scenes[0]!.name}: settled in 1.23 s.`,
    ],
    [{ code: 'set-began' }, 'The set has begun.'],
    [
      { code: 'value-unknown', functionId: fn.id, controlId: pedal.id, isSent: true },
      `Where Kelpline ${fn.name} stood was not known, so ${pedal.name} began where its range begins.`,
    ],
    [
      { code: 'value-unknown', functionId: fn.id, controlId: 'gone', isSent: true },
      `Where Kelpline ${fn.name} stood was not known, so The encoder began where its range begins.`,
    ],
    [{ code: 'captured', count: 1 }, 'Captured: 1 value taken into the scene.'],
    [
      { code: 'number-kept', deviceId: device.id, number: 31 },
      'CC 31 was not sent: Kelpline keeps this number for its own hardware. Take a free one.',
    ],
  ] as [LiveNote, string][])('%j', (note, sentence) => expect(noteSentence(note, world)).toBe(sentence));

  it('of a set that has begun names it', () => {
    const named = compileWorld({ ...world.show, setName: 'Harbour night' });
    expect(noteSentence({ code: 'set-began' }, named)).toBe('The set has begun: Harbour night.');
  });

  it.each([
    [0, '0 ms'],
    [42.639, '42.64 ms'],
    [999.9, '999.9 ms'],
    [1000, '1.00 s'],
  ])('%s ms is %s', (ms, words) => expect(milliseconds(ms)).toBe(words));
});
