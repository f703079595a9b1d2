import {
  copiedRig,
  presetFaults,
  readRigFile,
  RIG_FILE_FORMAT,
  RigFileSchema,
  rigFileJsonSchema,
  songFaults,
  writeRigFile,
  type RigFile,
} from '@idle-step/contract';
import { Replay, sentBy, type Recording } from '@idle-step/core/engine';
import { referencesIn, type Json } from '@idle-step/core/edits';
import { controller } from '@idle-step/core/midi';
import { describe, expect, it } from 'vitest';
import { demoPresets, demoRig, demoSets, demoSongs } from './index';

const file = RigFileSchema.parse({
  format: RIG_FILE_FORMAT,
  version: 1,
  rig: demoRig,
  presets: demoPresets,
  songs: demoSongs,
  sets: demoSets,
});

const idsIn = (part: Json): string[] =>
  Array.isArray(part)
    ? part.flatMap((row: Json) => idsIn(row))
    : part !== null && typeof part === 'object'
      ? Object.entries(part as Record<string, Json>).flatMap(([field, value]) =>
          field === 'id' ? [value as string] : idsIn(value),
        )
      : [];

const copy: RigFile = copiedRig(file, 'My own', () => crypto.randomUUID());

describe('a copy of a rig', () => {
  it('shares no identifier with it', () => {
    const [own, other] = [idsIn(copy as unknown as Json), idsIn(file as unknown as Json)];
    expect(own).toHaveLength(other.length);
    const before = new Set(other);
    expect(before.size).toBeGreaterThan(200);
    expect(own.filter((id) => before.has(id))).toEqual([]);
  });

  it('points only at itself, and holds', () => {
    const ids = new Set(idsIn(copy as unknown as Json));
    const outside = referencesIn(copy as unknown as Json).filter((r) => !ids.has(r.id));
    expect(outside.map((r) => r.path.join('.'))).toEqual([]);
    expect(RigFileSchema.safeParse(copy).success).toBe(true);
    expect(copy.presets.flatMap((p) => presetFaults(copy.rig, p))).toEqual([]);
    expect(copy.songs.flatMap((s) => songFaults(copy.rig, s))).toEqual([]);
    expect(copy.rig.name).toBe('My own');
  });

  it('plays the same bytes', () => {
    const played = ({ rig, presets, songs }: RigFile): string[] => {
      const board = rig.boards[0]!;
      const device = rig.devices.find((d) => d.id === board.deviceId)!;
      const interfaceIn = new Replay({
        startedAtMs: 0,
        show: { rig, presets, setName: '', songs },
        entries: [],
      }).world.boards[0]!.path!.portId;
      const recording: Recording = {
        startedAtMs: 0,
        show: { rig, presets, setName: '', songs },
        entries: board.controls
          .filter((c) => c.kind === 'footswitch')
          .flatMap(({ sends }, i) =>
            [127, 0].map((value, k) => ({
              kind: 'event' as const,
              event: {
                kind: 'message' as const,
                atMs: i * 400 + k * 100,
                portId: interfaceIn,
                message: controller(device.channel, sends.number, value),
              },
            })),
          ),
      };
      return sentBy(recording).map((s) => `${s.atMs} ${s.bytes}`);
    };
    expect(played(file).length).toBeGreaterThan(10);
    expect(played(copy)).toEqual(played(file));
  });
});

describe('a rig file', () => {
  it('reads back as it was written', () => expect(readRigFile(writeRigFile(file))).toEqual({ file }));

  it.each([
    ['', 'This is no JSON'],
    ['{}', 'does not say that it is a rig of Idle Step. (at format)'],
    [writeRigFile({ ...file, version: 2 as never }), 'not known here; 1 would be right. (at version)'],
    [
      writeRigFile({ ...file, songs: [{ ...file.songs[0]!, rigId: crypto.randomUUID() }] }),
      'belongs to another rig than',
    ],
    [writeRigFile(file).slice(0, 5000), 'JSON'],
  ])('%#: is refused with its reason', (text, reason) => expect(readRigFile(text).error).toContain(reason));

  it('has its published schema', async () => {
    const schema = `${JSON.stringify(rigFileJsonSchema(), null, 2)}\n`;
    await expect(schema).toMatchFileSnapshot('../../../docs/rig-file.schema.json');
  });
});
