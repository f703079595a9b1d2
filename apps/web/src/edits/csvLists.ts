import { cutText } from '@idle-step/core/typed';
import { SongSchema, type SetlistDoc, type SongDoc, type SongSummary } from '@idle-step/contract';
import type { FileFault, SetCsvRow, SongCsvRow } from '@idle-step/core/formats';
import { PLAIN_ENTRY, PLAIN_SCENE, PLAIN_SET } from '@idle-step/core/show';
import { newSong, pauseEntry, songEntry } from './songEdits';

/** What a file says of a song that is there already. */
export type SongChange = {
  readonly id: string;
  readonly name: string;
  /** In words. Example: `tempo 100 to 104`. */
  readonly words: readonly string[];
  apply(song: SongDoc): SongDoc;
};

/** What would be made of a list of songs. */
export type SongsFromCsv = {
  readonly fresh: readonly SongDoc[];
  readonly changed: readonly SongChange[];
  readonly same: number;
};

/** New titles become songs; of those that are there what the file says differently is changed, and their scenes stay. */
export function songsFromCsv(
  rows: readonly SongCsvRow[],
  songs: readonly SongSummary[],
  rigId: string,
): SongsFromCsv {
  const byTitle = new Map(songs.map((s) => [s.name.toLowerCase(), s]));
  const fresh: SongDoc[] = [];
  const changed: SongChange[] = [];
  let same = 0;
  for (const row of rows) {
    const song = byTitle.get(row.name.toLowerCase());
    if (!song) {
      fresh.push(songOf(row, rigId));
      continue;
    }
    const part = differing(row, song);
    const words = Object.entries(part).map(
      ([field, value]) =>
        `${WORDS[field as keyof typeof WORDS]} ${shown(song[field as keyof typeof WORDS])} to ${shown(value)}`,
    );
    if (words.length === 0) same++;
    else changed.push({ id: song.id, name: song.name, words, apply: (s) => ({ ...s, ...part }) });
  }
  return { fresh, changed, same };
}

const WORDS = {
  key: 'key',
  tempoBpm: 'tempo',
  beatsPerBar: 'beats',
  beatUnit: 'beat unit',
  lengthS: 'length',
  tags: 'tags',
  remark: 'remark',
} as const;
type Fields = Partial<Pick<SongDoc, keyof typeof WORDS>>;

const shown = (value: unknown): string =>
  (Array.isArray(value) ? value.join(', ') : String(value)) || 'nothing';

/** What a row says that a song does not. */
function differing(row: SongCsvRow, song: SongSummary): Fields {
  const part: Record<string, unknown> = {};
  for (const field of Object.keys(WORDS) as (keyof typeof WORDS)[]) {
    const value = row[field];
    if (value !== null && JSON.stringify(value) !== JSON.stringify(song[field])) part[field] = value;
  }
  return part as Fields;
}

function songOf(row: SongCsvRow, rigId: string): SongDoc {
  const plain = newSong(rigId, row.name);
  return SongSchema.parse({
    ...plain,
    key: row.key ?? '',
    tempoBpm: row.tempoBpm ?? plain.tempoBpm,
    beatsPerBar: row.beatsPerBar ?? plain.beatsPerBar,
    beatUnit: row.beatUnit ?? plain.beatUnit,
    lengthS: row.lengthS ?? plain.lengthS,
    tags: (row.tags ?? []).map((t) => cutText(t, 40)),
    remark: row.remark ?? '',
    scenes: row.scenes
      ? row.scenes.map((name) => ({ ...PLAIN_SCENE, id: crypto.randomUUID(), name: cutText(name, 80) }))
      : plain.scenes,
  });
}

/** A set from a running order, or the lines whose songs are not there. */
export function setFromCsv(
  rows: readonly SetCsvRow[],
  songs: readonly SongSummary[],
  rigId: string,
  name: string,
): SetlistDoc | readonly FileFault[] {
  const byTitle = new Map(songs.map((s) => [s.name.toLowerCase(), s]));
  const faults: FileFault[] = [];
  const entries = rows.map((row): SetlistDoc['entries'][number] => {
    const { isEncore, remark, lengthS } = row;
    if (row.kind !== 'song') {
      const pause = pauseEntry(row.kind);
      return {
        ...pause,
        ...PLAIN_ENTRY,
        isEncore,
        remark,
        name: cutText(row.name, 80),
        lengthS: lengthS ?? pause.lengthS!,
      } as SetlistDoc['entries'][number];
    }
    const song = byTitle.get(row.name.toLowerCase());
    if (!song)
      faults.push({
        line: row.line,
        sentence: `There is no song “${row.name}”; write it first, or take this line out.`,
      });
    return { ...songEntry(song?.id ?? ''), isEncore, remark, lengthS } as SetlistDoc['entries'][number];
  });
  return faults.length > 0 ? faults : { ...PLAIN_SET, id: crypto.randomUUID(), rigId, name, entries };
}
