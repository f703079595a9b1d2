import {
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
    const actions = (p: { banks: { assignments: { press: unknown[] }[] }[] }) =>
      p.banks.flatMap((b) => b.assignments.flatMap((a) => a.press)).length;
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
});
