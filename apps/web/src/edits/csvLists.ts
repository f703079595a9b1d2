import {
  type Song,
  type Setlist,
  type SetEntry,
  PLAIN_ENTRY,
  PLAIN_SCENE,
  PLAIN_SET,
} from '@idle-step/core/show';
import { type FullRig, portName } from '@idle-step/core/routing';
import { cutText } from '@idle-step/core/typed';
import { SongSchema, type SongSummary } from '@idle-step/contract';
import type { FileFault, SetCsv, SetCsvHead, SetCsvRow, SongCsvRow } from '@idle-step/core/formats';
import { newSong, pauseEntry, songEntry } from './songEdits';
import { keysOf, nth, there } from '@idle-step/core/sure';

/** What a file says of a song that is there already. */
export type SongChange = {
  readonly id: string;
  readonly name: string;
  /** In words. Example: `tempo 100 to 104`. */
  readonly words: readonly string[];
  apply(song: Song): Song;
};

/** What would be made of a list of songs. */
export type SongsFromCsv = {
  readonly fresh: readonly Song[];
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
  const fresh: Song[] = [];
  const changed: SongChange[] = [];
  let same = 0;
  for (const row of rows) {
    const song = byTitle.get(row.name.toLowerCase());
    if (!song) {
      fresh.push(songOf(row, rigId));
      continue;
    }
    const part = differing(row, song);
    const words = keysOf(WORDS).flatMap((field) =>
      field in part ? `${WORDS[field]} ${shown(song[field])} to ${shown(part[field])}` : [],
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
type Fields = Partial<Pick<Song, keyof typeof WORDS>>;

const shown = (value: unknown): string =>
  (Array.isArray(value) ? value.join(', ') : String(value)) || 'nothing';

/** What a row says that a song does not. */
function differing(row: SongCsvRow, song: SongSummary): Fields {
  const part: Record<string, unknown> = {};
  for (const field of keysOf(WORDS)) {
    const value = row[field];
    if (value !== null && JSON.stringify(value) !== JSON.stringify(song[field])) part[field] = value;
  }
  return part;
}

function songOf(row: SongCsvRow, rigId: string): Song {
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

/** The songs that a running order names, where the file leaves out scenes of them: those have to be known whole. */
export const songsToKnow = ({ rows }: SetCsv, songs: readonly SongSummary[]): readonly string[] => {
  const named = byTitle(songs);
  return rows.flatMap((row) => (row.leftOut.length > 0 ? (songNamed(row, named)?.id ?? []) : []));
};

/**
 * A set from a running order, or what of it is not there.
 * @param into the set that becomes what the file says, or `null` for a new one: what the file does not say stays, and
 * lines that are the same stay the same lines. @param known songs whose scenes are left out. @param nameFor a name that
 * no other set has.
 */
export function setFromCsv(
  { head, rows }: SetCsv,
  rig: FullRig,
  songs: readonly SongSummary[],
  known: readonly Song[],
  into: Setlist | null,
  nameFor: (wanted: string | null) => string,
): Setlist | readonly FileFault[] {
  const named = byTitle(songs);
  const wholeSongs = new Map(known.map((s) => [s.id, s]));
  const faults: FileFault[] = [];
  const entries = rows.map((row): Setlist['entries'][number] => {
    const { isEncore, notTonight, remark, lengthS } = row;
    if (row.kind !== 'song') {
      const pause = pauseEntry(row.kind);
      return {
        ...pause,
        ...PLAIN_ENTRY,
        isEncore,
        notTonight,
        remark,
        name: cutText(row.name, 80),
        lengthS: lengthS ?? pause.lengthS,
      };
    }
    const song = songNamed(row, named, into);
    if (!song)
      faults.push({
        line: row.line,
        sentence: `There is no song “${row.name}”; write it first, or take this line out.`,
      });
    const leftOutSceneIds = song ? leftOutOf(row, wholeSongs.get(song.id), faults) : [];
    return {
      ...songEntry(song?.id ?? ''),
      isEncore,
      notTonight,
      remark,
      lengthS,
      leftOutSceneIds,
    };
  });
  const calls = head?.calls ? callsOf(head, rig, faults) : null;
  if (faults.length > 0) return faults;
  const plain = into ?? { ...PLAIN_SET, id: crypto.randomUUID(), rigId: rig.id };
  const evening = head && {
    date: head.date,
    place: head.place,
    startMin: head.startMin,
    slotS: head.slotS,
    remark: head.remark,
    calls,
  };
  const name = into ? (head?.name ?? into.name) : nameFor(head?.name ?? null);
  return { ...plain, ...evening, name, entries: into ? sameLines(into.entries, entries) : entries };
}

type Named = ReadonlyMap<string, readonly SongSummary[]>;

function byTitle(songs: readonly SongSummary[]): Named {
  const named = new Map<string, SongSummary[]>();
  for (const song of songs) {
    const title = song.name.toLowerCase();
    named.set(title, [...(named.get(title) ?? []), song]);
  }
  return named;
}

/** The song of a line. Of several with one title that of the set, or with the tempo and key that the file says. */
function songNamed(row: SetCsvRow, named: Named, into: Setlist | null = null): SongSummary | undefined {
  const all = named.get(row.name.toLowerCase()) ?? [];
  if (all.length < 2) return all[0];
  const inSet = new Set(into?.entries.flatMap((e) => (e.kind === 'song' ? e.songId : [])));
  const fit = (s: SongSummary) =>
    (s.name === row.name ? 8 : 0) +
    (s.tempoBpm === row.tempoBpm ? 4 : 0) +
    (s.key === (row.key ?? '') ? 2 : 0) +
    (inSet.has(s.id) ? 1 : 0);
  return all.reduce((best, s) => (fit(s) > fit(best) ? s : best));
}

function leftOutOf(row: SetCsvRow, song: Song | undefined, faults: FileFault[]): string[] {
  return row.leftOut.flatMap(({ place, name }) => {
    const at = place === null ? undefined : song?.scenes[place - 1];
    const isMeant = at !== undefined && (name === '' || at.name === name);
    const wanted = (name === '' ? String(place) : name).toLowerCase();
    const alike = song?.scenes.filter((s) => s.name.toLowerCase() === wanted) ?? [];
    const found = isMeant ? at : alike.length === 1 ? alike[0] : undefined;
    if (found) return [found.id];
    faults.push({
      line: row.line,
      sentence:
        alike.length > 1
          ? `${alike.length} scenes of “${row.name}” are called “${name}”; write the place of the one that is left out, like 2.`
          : `“${row.name}” has no scene “${name || place}” to be left out.`,
    });
    return [];
  });
}

function callsOf({ line, calls }: SetCsvHead, rig: FullRig, faults: FileFault[]): Setlist['calls'] {
  const ports = [...rig.devices.flatMap((d) => d.ports), ...rig.routing.lines];
  const port = ports.find((p) => portName(rig, p.id).toLowerCase() === there(calls).port.toLowerCase());
  if (port) return { portId: port.id, channel: there(calls).channel, base: there(calls).base };
  faults.push({
    line,
    sentence: `The rig has no port “${there(calls).port}” by which songs could be called; plug it in first, or empty that cell.`,
  });
  return null;
}

/** New lines with the identifiers of old ones that are the same song or pause, in order. */
function sameLines(old: readonly SetEntry[], lines: readonly SetEntry[]): SetEntry[] {
  const whatOf = (e: SetEntry) => `${e.kind} ${e.kind === 'song' ? e.songId : e.name}`;
  const free = [...old];
  return lines.map((line) => {
    const at = free.findIndex((e) => whatOf(e) === whatOf(line));
    return at < 0 ? line : { ...line, id: nth(free.splice(at, 1), 0).id };
  });
}
