import type { Song } from '@idle-step/core/show';
import type { FullRig } from '@idle-step/core/routing';
import { SongSchema } from '@idle-step/contract';
import type { World } from '@idle-step/core/engine';
import { readSmf, SMF_BYTES } from '@idle-step/core/formats';
import { songFromSmf, type SongFromSmf } from '@idle-step/core/songFile';
import { nth } from '@idle-step/core/sure';

/** A song that was read from a MIDI file and is not made yet. */
export type ReadSong = { readonly song: Song; readonly from: SongFromSmf; readonly fileName: string };

/** Reads a file as a song of a rig; a text is why it is none. */
export async function readSongFile(world: World, rig: FullRig, file: File): Promise<ReadSong | string> {
  if (file.size > SMF_BYTES)
    return `${file.name} has ${Math.round(file.size / 1_000_000)} MB; songs are read up to ${SMF_BYTES / 1_000_000} MB.`;
  const result = readSmf(new Uint8Array(await file.arrayBuffer()));
  if (!result.ok) return `${file.name}: ${result.error.sentence}`;
  const from = songFromSmf(world, result.value, file.name.replace(/\.midi?$/i, ''), () =>
    crypto.randomUUID(),
  );
  const made = SongSchema.safeParse({ ...from.song, id: crypto.randomUUID(), rigId: rig.id });
  return made.success
    ? { song: made.data, from, fileName: file.name }
    : `${file.name} makes no song: ${nth(made.error.issues, 0).message}`;
}
