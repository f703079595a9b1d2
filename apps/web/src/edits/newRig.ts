import type { FullRig } from '@idle-step/core/routing';
import { copiedRig, RIG_FILE_FORMAT, RigFileSchema, STEP_GUARD_MS, type RigFile } from '@idle-step/contract';

/** Nothing in it yet. */
export const emptyRig = (name: string): RigFile => ({
  format: RIG_FILE_FORMAT,
  version: 1,
  rig: {
    id: crypto.randomUUID(),
    name,
    middleC: 3,
    stepGuardMs: STEP_GUARD_MS,
    devices: [],
    cables: [],
    boards: [],
    routing: { lines: [], routes: [], othersTo: [] },
  } satisfies FullRig,
  presets: [],
  songs: [],
  sets: [],
});

/** The same rig again, under another name and with identifiers of its own. */
export const rigCopy = (file: RigFile, name: string): RigFile =>
  copiedRig(file, name, () => crypto.randomUUID());

/** The made-up rig of the demo, fetched only when somebody asks for it. */
export async function demoCopy(name: string): Promise<RigFile> {
  const { demoPresets, demoRig, demoSets, demoSongs } = await import('@idle-step/demo');
  const file = RigFileSchema.parse({
    format: RIG_FILE_FORMAT,
    version: 1,
    rig: demoRig,
    presets: demoPresets,
    songs: demoSongs,
    sets: demoSets,
  });
  return rigCopy(file, name);
}
