import { mapReferences, referencesIn, takenOut } from '@idle-step/core/edits';
import { duplicated, type Preset, type RigWithBoards } from '@idle-step/core/floor';
import type { Routing } from '@idle-step/core/routing';
import { z } from 'zod';
import { readJson } from './numbers';
import { PresetSchema } from './preset';
import { nth, there } from '@idle-step/core/sure';

/** What a preset file says it is. */
export const PRESET_FILE_FORMAT = 'idle-step-preset';

const Named = z.record(z.string(), z.string().max(200));

/**
 * A preset as a file: the preset as it is kept, and the names of everything that it points at, so that it can be read
 * into another rig. Names of functions are `device / function`, of ports `device / port`.
 */
export const PresetFileSchema = z.object({
  format: z.literal(PRESET_FILE_FORMAT, {
    error: 'This file does not say that it is a preset of Idle Step.',
  }),
  version: z.literal(1, { error: 'This file is of a version that is not known here; 1 would be right.' }),
  preset: PresetSchema,
  names: z.object({
    functions: Named,
    controls: Named,
    devices: Named,
    ports: Named,
    routes: Named.default({}),
  }),
});
export type PresetFile = Omit<z.infer<typeof PresetFileSchema>, 'preset'> & { readonly preset: Preset };

type RoutedRig = RigWithBoards & { readonly routing?: Routing };

/** What a preset points at, by identifier, with its name in a rig. */
function namesIn(rig: RoutedRig) {
  const table = (pairs: readonly (readonly [string, string])[]) => new Map(pairs);
  return {
    functions: table(
      rig.devices.flatMap((d) => d.chart.map((f) => [f.id, `${d.name} / ${f.name}`] as const)),
    ),
    controls: table(rig.boards.flatMap((b) => b.controls.map((c) => [c.id, c.name] as const))),
    devices: table(rig.devices.map((d) => [d.id, d.name] as const)),
    ports: table(rig.devices.flatMap((d) => d.ports.map((p) => [p.id, `${d.name} / ${p.name}`] as const))),
    routes: table((rig.routing?.routes ?? []).map((r) => [r.id, r.name] as const)),
  };
}

/** The text of a preset file. */
export function writePresetFile(rig: RoutedRig, preset: Preset): string {
  const used = new Set(referencesIn(preset).map((r) => r.id));
  const names = namesIn(rig);
  const kept = (map: ReadonlyMap<string, string>) =>
    Object.fromEntries([...map].filter(([id]) => used.has(id)));
  const file: PresetFile = {
    format: PRESET_FILE_FORMAT,
    version: 1,
    preset,
    names: {
      functions: kept(names.functions),
      controls: kept(names.controls),
      devices: kept(names.devices),
      ports: kept(names.ports),
      routes: kept(names.routes),
    },
  };
  return `${JSON.stringify(file, null, 2)}\n`;
}

export type ReadPreset =
  | {
      readonly preset: Preset;
      /** What the rig or the board does not have: left out, by name. */
      readonly missing: readonly string[];
      readonly error?: undefined;
    }
  | { readonly error: string };

/**
 * Reads a preset file for a board of a rig: as a new preset with identifiers of its own. What it points at is found by
 * its identifier, else by its name; what is not there is left out and named.
 */
export function readPresetFile(
  text: string,
  rig: RoutedRig,
  boardId: string,
  newId: () => string,
): ReadPreset {
  const json = readJson(text);
  if (json.error !== undefined) return json;
  const parsed = PresetFileSchema.safeParse(json.value);
  if (!parsed.success) {
    const issue = nth(parsed.error.issues, 0);
    const place = issue.path.length > 0 ? ` (at ${issue.path.join('.')})` : '';
    return { error: `${issue.message}${place}` };
  }
  const { preset, names } = parsed.data;
  const board = rig.boards.find((b) => b.id === boardId);
  if (!board) return { error: 'The board that this is read for is gone.' };
  const here = namesIn({ ...rig, boards: [board] });
  const known = { ...here, controls: new Map(board.controls.map((c) => [c.id, c.name])) };
  const missing: string[] = [];
  const found = new Map<string, string>();
  const gone = new Set<string>();
  for (const kind of ['functions', 'controls', 'devices', 'ports', 'routes'] as const)
    for (const [id, name] of Object.entries(names[kind])) {
      if (known[kind].has(id)) continue;
      const other = [...known[kind]].find(([, n]) => n.toLowerCase() === name.toLowerCase())?.[0];
      if (other) found.set(id, other);
      else {
        gone.add(id);
        missing.push(name);
      }
    }
  const moved = { ...preset, boardId, rigId: rig.id };
  const without = takenOut(
    mapReferences(moved, ({ id }) => found.get(id) ?? id),
    ({ id }) => gone.has(id),
  );
  const copy = duplicated(there(without), preset.name, newId);
  return { preset: copy, missing };
}

/** The published schema of a preset file, as JSON Schema. */
export const presetFileJsonSchema = (): unknown =>
  z.toJSONSchema(PresetFileSchema, { io: 'input', unrepresentable: 'any', reused: 'ref' });
