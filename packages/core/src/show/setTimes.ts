import { fifthsBetween } from './keys';
import { songLine, type SongLine } from './line';
import { partsOf } from './parts';
import type { SetEntry, Setlist, Song } from './song';

/** Jumps that a band feels: a tempo that differs by more than this share. */
const TEMPO_JUMP = 0.2;
/** … and a key that is this many fifths away or more. */
const KEY_JUMP = 3;

/** One line of a running order with its times, in seconds from the start of the evening. */
export type EntryTime = {
  readonly entry: SetEntry;
  /** The song of the line; `null` for a break, for talk, and where it is gone. */
  readonly song: Song | null;
  /** Its number among the songs of this evening, from 1; `null` for what is no song, or not played tonight. */
  readonly number: number | null;
  readonly startS: number;
  readonly lengthS: number;
  /** How much the tempo jumps against the song before, in bpm; `null` where it does not. */
  readonly tempoJump: number | null;
  /** How far its key lies from that of the song before, in fifths, where that is a jump; else `null`. */
  readonly keyJump: number | null;
  /** The line, from 0, in which the same song stands before; `null` where it does not. */
  readonly sameAs: number | null;
};

export type SetTimes = {
  readonly entries: readonly EntryTime[];
  /** Up to the planned end, without encores. */
  readonly playedS: number;
  readonly encoreS: number;
  /** How much longer (above 0) or shorter than the slot it is, in s; `null` without a slot. */
  readonly overS: number | null;
};

/**
 * How long a song is on an evening: as planned for it, else the song's own length less what of it is left out.
 * @returns seconds, 0 and above.
 */
export function entryLengthS(entry: SetEntry & { kind: 'song' }, song: Song | null): number {
  if (entry.lengthS !== null) return entry.lengthS;
  if (!song) return 0;
  const left = new Set(entry.leftOutSceneIds);
  if (left.size === 0) return song.lengthS;
  const all = partsOf(song);
  // What is left takes its own time where it comes: the tempos along the song are other ones there.
  const allS = knownS(songLine(song, all));
  const keptS = knownS(
    songLine(
      song,
      all.filter((p) => !left.has(p.sceneId)),
    ),
  );
  return Math.max(0, song.lengthS - allS + keptS);
}

/** The sum of the lengths that are known, in s. */
const knownS = ({ parts }: SongLine): number => parts.reduce((sum, { lengthS }) => sum + (lengthS ?? 0), 0);

/** The lines in the order in which they are played: encores after the planned end. */
export const entriesInOrder = <E extends SetEntry>({
  entries,
}: {
  readonly entries: readonly E[];
}): readonly E[] => [...entries.filter((e) => !e.isEncore), ...entries.filter((e) => e.isEncore)];

/** The lines that are played this evening, in their order. */
export const entriesTonight = <E extends SetEntry>(set: { readonly entries: readonly E[] }): readonly E[] =>
  entriesInOrder(set).filter((e) => !e.notTonight);

/** From one key to the next, in fifths; `null` where it is no jump, or one of them is no key. */
function keyJump(before: string, key: string): number | null {
  const fifths = fifthsBetween(before, key);
  return fifths !== null && fifths >= KEY_JUMP ? fifths : null;
}

/** Of a line that is not played. */
const NO_TIMES = { number: null, tempoJump: null, keyJump: null, sameAs: null } as const;

/** The times of a set; what is not played tonight takes none. Encores are reckoned after the planned end, in their order. */
export function setTimes(set: Setlist, songOf: (id: string) => Song | undefined): SetTimes {
  const times: EntryTime[] = [];
  const seen = new Map<string, number>();
  let number = 0;
  let before: Song | null = null;
  let startS = 0;
  let playedS = 0;
  for (const [i, entry] of entriesInOrder(set).entries()) {
    const song = entry.kind === 'song' ? (songOf(entry.songId) ?? null) : null;
    const lengthS = entry.kind === 'song' ? entryLengthS(entry, song) : entry.lengthS;
    if (entry.notTonight) {
      times.push({ ...NO_TIMES, entry, song, startS, lengthS });
      continue;
    }
    const jump: number = song && before ? song.tempoBpm - before.tempoBpm : 0;
    times.push({
      entry,
      song,
      number: entry.kind === 'song' ? ++number : null,
      startS,
      lengthS,
      tempoJump: before && Math.abs(jump) > before.tempoBpm * TEMPO_JUMP ? jump : null,
      keyJump: song && before ? keyJump(before.key, song.key) : null,
      sameAs: song ? (seen.get(song.id) ?? null) : null,
    });
    if (song && !seen.has(song.id)) seen.set(song.id, i);
    if (song) before = song;
    startS += lengthS;
    if (!entry.isEncore) playedS = startS;
  }
  return {
    entries: times,
    playedS,
    encoreS: startS - playedS,
    overS: set.slotS === null ? null : playedS - set.slotS,
  };
}
