import type { RigFile, RigPart } from '@idle-step/contract';
import { keysOf } from '@idle-step/core/sure';

/** A part is sent in one body of at most about so many characters: well below what the server takes. */
const PART_CHARS = 400_000;

/** The bodies in which a rig goes to the server: parts first, then the rig itself. */
export type RigBodies = { readonly parts: readonly string[]; readonly rig: string };

/** A rig file in bodies of a size that the server takes. */
export function rigBodies({ rig, presets, songs, sets }: RigFile): RigBodies {
  const parts: string[] = [];
  let now: Record<keyof RigPart, string[]> = { presets: [], songs: [], sets: [] };
  let size = 0;
  const close = () => {
    if (size === 0) return;
    parts.push(
      `{${Object.entries(now)
        .map(([kind, docs]) => `"${kind}":[${docs.join(',')}]`)
        .join(',')}}`,
    );
    now = { presets: [], songs: [], sets: [] };
    size = 0;
  };
  const all = { presets, songs, sets };
  for (const kind of keysOf(all))
    for (const doc of all[kind]) {
      const text = JSON.stringify(doc);
      if (size > 0 && size + text.length > PART_CHARS) close();
      now[kind].push(text);
      size += text.length;
    }
  close();
  return { parts, rig: JSON.stringify(rig) };
}
