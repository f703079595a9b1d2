import {
  copiedRig,
  presetFaults,
  PresetSchema,
  readPresetFile,
  readRecording,
  readRigFile,
  songFaults,
} from '@idle-step/contract';
import { firstDifference, sentBy, type SentBytes } from '@idle-step/core/engine';
import { describe, expect, it } from 'vitest';
import preset1a from '../fixtures/preset-1a.json';
import preset1b from '../fixtures/preset-1b.json';
import recording1 from '../fixtures/recording-1.json';
import recording2 from '../fixtures/recording-2.json';
import rig1 from '../fixtures/rig-1.json';
import rig2 from '../fixtures/rig-2.json';
import { demoRig } from './index';

/**
 * Files as they were written when each form was released, never written again: what people gave away or kept then
 * still opens.
 */
const textOf = (file: unknown): string => JSON.stringify(file);

describe('files of every released form', () => {
  it.each([
    ['presets at first', preset1a],
    ['presets that name their routes', preset1b],
  ])('%s', (_name, file) => {
    const read = readPresetFile(textOf(file), demoRig, demoRig.boards[0]!.id, () => crypto.randomUUID());
    if (read.error !== undefined) throw new Error(read.error);
    expect(read.preset.banks.map((b) => b.name)).toEqual(file.preset.banks.map((b) => b.name));
    expect(PresetSchema.safeParse(read.preset).success).toBe(true);
    expect(presetFaults(demoRig, read.preset)).toEqual([]);
    type Pages = {
      readonly banks: readonly { readonly assignments: readonly { readonly press: readonly unknown[] }[] }[];
    };
    const actions = ({ banks }: Pages) => banks.flatMap((b) => b.assignments.flatMap((a) => a.press)).length;
    expect(actions(read.preset)).toBe(actions(file.preset));
  });

  it('a rig with its presets, songs and sets', () => {
    const read = readRigFile(textOf(rig1));
    if (read.error !== undefined) throw new Error(read.error);
    const { rig, presets, songs, sets } = read.file;
    expect(rig.devices.map((d) => d.name)).toEqual(rig1.rig.devices.map((d) => d.name));
    expect(presets.flatMap((p) => presetFaults(rig, p))).toEqual([]);
    expect(songs.flatMap((s) => songFaults(rig, s))).toEqual([]);
    expect([presets.length, songs.length, sets.length]).toEqual([2, 3, 1]);
  });

  it('a rig whose songs have parts and glides, and whose set has encores and what is left out', () => {
    const read = readRigFile(textOf(rig2));
    if (read.error !== undefined) throw new Error(read.error);
    const { rig, songs, sets } = read.file;
    expect(songs.flatMap((s) => songFaults(rig, s))).toEqual([]);
    expect(songs.map((s) => s.parts.length)).toEqual([0, 6, 0]);
    expect(songs.flatMap((s) => s.scenes.flatMap((x) => x.transition?.time.amount ?? []))).toEqual([8, 4, 2]);
    expect(sets[0]!.entries.at(-1)).toMatchObject({ isEncore: true, lengthS: 200 });
    // A copy points at its own scenes.
    const copy = copiedRig(read.file, 'Copy', () => crypto.randomUUID());
    const scenes = new Set(copy.songs.flatMap((s) => s.scenes.map((x) => x.id)));
    const pointed = [
      ...copy.songs.flatMap((s) => s.parts.map((p) => p.sceneId)),
      ...copy.sets.flatMap((s) => s.entries.flatMap((e) => (e.kind === 'song' ? e.leftOutSceneIds : []))),
    ];
    expect(pointed).toHaveLength(7);
    expect(pointed.filter((id) => !scenes.has(id))).toEqual([]);
    expect(songs.flatMap((s) => s.scenes).filter((s) => scenes.has(s.id))).toEqual([]);
  });

  it('a recording with every edit whole plays the same bytes again, each by the same port', () => {
    const read = readRecording(textOf(recording1));
    if (read.error !== undefined) throw new Error(read.error);
    // When each left has changed since: what is due is no longer held up by the next event.
    const bytes = (sent: readonly SentBytes[]) => sent.map((s) => `${s.portId} ${s.bytes}`);
    expect(read.sent.length).toBeGreaterThan(3);
    expect(bytes(sentBy(read.recording))).toEqual(bytes(read.sent));
  });

  it('a recording with edits as differences plays the same bytes again at the same times', () => {
    const read = readRecording(textOf(recording2));
    if (read.error !== undefined) throw new Error(read.error);
    expect(read.sent.length).toBeGreaterThan(3);
    expect(firstDifference(sentBy(read.recording), read.sent)).toBeNull();
  });

  it('a file in which what is switched over has its older word', () => {
    const [bank] = preset1b.preset.banks;
    const [assignment] = bank!.assignments;
    const older = ['route', 'line', 'loop'].map((kind) => ({
      id: crypto.randomUUID(),
      kind,
      to: 'turn',
      ...(kind === 'route' ? { routeId: demoRig.routing.routes[0]!.id, part: 'gate' } : {}),
    }));
    const file = {
      ...preset1b,
      preset: {
        ...preset1b.preset,
        banks: [{ ...bank, name: 'turn', assignments: [{ ...assignment, press: older }] }],
      },
    };
    const read = readPresetFile(textOf(file), demoRig, demoRig.boards[0]!.id, () => crypto.randomUUID());
    if (read.error !== undefined) throw new Error(read.error);
    const [kept] = read.preset.banks;
    expect(kept!.name).toBe('turn');
    expect(kept!.assignments[0]!.press.map((a) => ('to' in a ? a.to : null))).toEqual(
      Array(3).fill('toggle'),
    );
  });
});
