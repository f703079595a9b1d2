/** One thing that happened while a set was played. Times in ms since the set began. */
export type EveningEntry = {
  /** Counted from 0 in the order in which things happened. */
  readonly number: number;
  readonly atMs: number;
} & (
  | { readonly kind: 'begin' | 'end' }
  /** A scene was recalled, at a place of the running order. */
  | { readonly kind: 'scene'; readonly entryId: string; readonly song: string; readonly scene: string }
  | { readonly kind: 'pause'; readonly name: string }
  | { readonly kind: 'press'; readonly control: string; readonly label: string }
  | {
      readonly kind: 'message';
      readonly way: 'in' | 'out';
      readonly port: string;
      /** The last of them, as hexadecimal pairs. */
      readonly bytes: string;
      /** Messages of the same kind and number that came one upon the other count as one line. */
      readonly times: number;
      /** How much later than planned the latest of them left; `null` for what came in. */
      readonly lateMs: number | null;
      /** Nothing took it: no port and no stand-in. */
      readonly isLost: boolean;
    }
  | { readonly kind: 'note'; readonly code: string; readonly text: string }
);

/** A song as it stood in the running order when the set began. */
export type PlannedSong = {
  readonly entryId: string;
  readonly songId: string;
  readonly name: string;
  readonly lengthS: number;
};

export type PlayedSong = PlannedSong & {
  /** When it began, in ms since the set did; `null` where it was not played. */
  readonly startedAtMs: number | null;
  /** How long it was played, each time that it was gone back to counted in; `null` where that is not known. */
  readonly playedS: number | null;
};

/** A song that is left sooner than this was only gone past, in ms. */
const PASSING_MS = 3000;

/**
 * How long each song really was: from a scene of it until the first scene of another one, a break, or the end. What was
 * still played where the log ends is not known.
 */
export function playedSongs(
  plan: readonly PlannedSong[],
  entries: readonly EveningEntry[],
): readonly PlayedSong[] {
  const played = new Map<string, { startedAtMs: number; ms: number; isOpen: boolean }>();
  let playing: string | null = null;
  let sinceMs = 0;
  for (const entry of entries) {
    const begun = entry.kind === 'scene' ? entry.entryId : null;
    const isOver = entry.kind === 'end' || entry.kind === 'pause';
    if (!isOver && (begun === null || begun === playing)) continue;
    const song = playing === null ? undefined : played.get(playing);
    if (playing !== null && song) {
      const ms = entry.atMs - sinceMs;
      // Gone past on the way to another one, it was not played.
      if (ms >= PASSING_MS) song.ms += ms;
      else if (song.ms === 0) played.delete(playing);
      song.isOpen = false;
    }
    [playing, sinceMs] = [begun, entry.atMs];
    if (begun === null) continue;
    const before = played.get(begun);
    if (before) before.isOpen = true;
    else played.set(begun, { startedAtMs: entry.atMs, ms: 0, isOpen: true });
  }
  return plan.map((song) => {
    const found = played.get(song.entryId);
    return {
      ...song,
      startedAtMs: found?.startedAtMs ?? null,
      playedS: found && !found.isOpen ? Math.round(found.ms / 1000) : null,
    };
  });
}

/** A message this much later than planned is said to be late, in ms. */
export const LATE_MS = 10;
