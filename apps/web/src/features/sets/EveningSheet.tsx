import { type Setlist, LATE_MS, playedSongs, type EveningEntry, type PlayedSong } from '@idle-step/core/show';
import type { EveningLine, EveningLog } from '@idle-step/contract';
import { writeCsv } from '@idle-step/core/formats';
import { useVirtualizer } from '@tanstack/react-virtual';
import { FileDown, Trash2 } from 'lucide-react';
import { useMemo, useRef, useState } from 'react';
import { Button } from 'react-bootstrap';
import { useDeleteEveningMutation, useEveningQuery } from '../../api/api';
import { useEditAll, useSongsOf } from '../../drafts/useDocs';
import { saveTextFile } from '../../files/saveTextFile';
import { IconButton } from '../../ui/IconButton';
import { Pick } from '../../ui/Fields';
import { dayOf, minutes } from '../../words/times';
import { counted } from '../../words/counted';
import { got, keysOf, nth, there } from '@idle-step/core/sure';

const KINDS = {
  walk: 'scenes and presses',
  all: 'everything',
  out: 'what was sent',
  in: 'what came in',
  amiss: 'what was late or lost',
} as const;
type Kind = keyof typeof KINDS;

/** One evening: its songs, planned and real, and everything that happened. */
export function EveningSheet({ set, line, onGone }: { set: Setlist; line: EveningLine; onGone(): void }) {
  const { data, isError } = useEveningQuery(line.id, { refetchOnMountOrArgChange: true });
  const [remove] = useDeleteEveningMutation();
  const [isAsking, setAsking] = useState(false);
  if (isError) return <p className="field-error">The log of this evening could not be fetched; try again.</p>;
  if (!data) return <p className="muted">Fetching {counted(line.lineCount, 'line')} …</p>;
  return (
    <>
      <SongTable set={set} log={data} />
      <LogTable log={data}>
        <IconButton
          icon={FileDown}
          label="Save the log as CSV"
          onClick={() =>
            saveTextFile(`${set.name} ${data.evening.startedAt.slice(0, 10)}.csv`, 'text/csv', logCsv(data))
          }
        />
        {isAsking ? (
          <span className="notice" role="alert">
            A deleted log cannot be brought back.{' '}
            <Button
              variant="quiet"
              onClick={() =>
                void remove(line.id)
                  .unwrap()
                  .then(onGone, () => setAsking(false))
              }
            >
              Delete it
            </Button>{' '}
            <Button variant="bare" onClick={() => setAsking(false)}>
              Keep it
            </Button>
          </span>
        ) : (
          <IconButton icon={Trash2} label="Delete this log" onClick={() => setAsking(true)} />
        )}
      </LogTable>
    </>
  );
}

/** Planned and real lengths; the real ones can be taken into the songs. */
function SongTable({ set, log }: { set: Setlist; log: EveningLog }) {
  const editAll = useEditAll('songs');
  const { songs } = useSongsOf(set);
  const lengthNow = new Map(songs.map((s) => [s.id, s.lengthS]));
  const played = useMemo(() => playedSongs(log.evening.plan, log.entries), [log]);
  const canTake = (song: PlayedSong) =>
    song.playedS !== null &&
    song.playedS > 0 &&
    lengthNow.has(song.songId) &&
    lengthNow.get(song.songId) !== song.playedS;
  const take = (songs: readonly PlayedSong[]) =>
    editAll(
      songs.length === 1 ? 'take the real length' : `take ${songs.length} real lengths`,
      songs.map(({ songId, playedS }) => ({
        id: songId,
        change: (s) => ({ ...s, lengthS: playedS ?? s.lengthS }),
      })),
    );
  const takers = played.filter(canTake);
  return (
    <>
      <div className="place-head">
        <h2>Songs</h2>
        <span className="muted">
          {dayOf(log.evening.startedAt)}, planned {minutes(total(played, (s) => s.lengthS))}, played{' '}
          {minutes(total(played, (s) => s.playedS ?? 0))}
        </span>
        <span className="gap" />
        {takers.length > 0 && (
          <Button variant="quiet" onClick={() => take(takers)}>
            Take {takers.length === 1 ? 'the real length' : `${takers.length} real lengths`} into the songs
          </Button>
        )}
      </div>
      <table className="lines evening-songs">
        <thead>
          <tr>
            <th>Song</th>
            <th>Began</th>
            <th>Planned</th>
            <th>Real</th>
            <th>Difference</th>
            <th>In the song now</th>
          </tr>
        </thead>
        <tbody>
          {played.map((song) => (
            <tr key={song.entryId}>
              <td>{song.name}</td>
              <td className="num">{song.startedAtMs === null ? '' : minutes(song.startedAtMs / 1000)}</td>
              <td className="num">{minutes(song.lengthS)}</td>
              <td className="num">
                {song.playedS === null
                  ? song.startedAtMs === null
                    ? 'not played'
                    : 'not known'
                  : minutes(song.playedS)}
              </td>
              <td className="num">{song.playedS === null ? '' : difference(song.playedS - song.lengthS)}</td>
              <td className="num">
                {lengthNow.has(song.songId) ? minutes(got(lengthNow, song.songId)) : 'gone'}
                {canTake(song) && (
                  <Button variant="bare" onClick={() => take([song])}>
                    Take {minutes(there(song.playedS))}
                  </Button>
                )}
              </td>
            </tr>
          ))}
        </tbody>
      </table>
    </>
  );
}

const total = (songs: readonly PlayedSong[], of: (song: PlayedSong) => number): number =>
  songs.reduce((sum, song) => sum + of(song), 0);

const difference = (s: number): string => (s === 0 ? '0:00' : `${s > 0 ? '+' : '−'}${minutes(Math.abs(s))}`);

const ROW_PX = 28;

/** The log, with what is wanted of it. */
function LogTable({ log, children }: { log: EveningLog; children: React.ReactNode }) {
  const [kind, setKind] = useState<Kind>('walk');
  const lines = useMemo(() => log.entries.filter((e) => isOf(e, kind)), [log, kind]);
  const scroll = useRef<HTMLDivElement>(null);
  const virtual = useVirtualizer({
    count: lines.length,
    getScrollElement: () => scroll.current,
    estimateSize: () => ROW_PX,
    overscan: 8,
    initialRect: { width: 900, height: 420 },
  });
  const amiss = log.entries.filter((e) => isOf(e, 'amiss')).length;
  return (
    <>
      <div className="place-head">
        <h2>Log</h2>
        <span className="muted">
          {counted(log.entries.length, 'line')}
          {amiss === 0 ? ', nothing late or lost' : `, ${amiss} late or lost`}
        </span>
        <span className="gap" />
        <Pick
          hideLabel
          label="Show"
          value={kind}
          options={keysOf(KINDS).map((value) => ({ value, text: KINDS[value] }))}
          onPick={(value: Kind) => setKind(value)}
        />
        {children}
      </div>
      {lines.length === 0 && <p className="muted">Nothing of this kind.</p>}
      <div className="evening-log" ref={scroll} tabIndex={0} role="list" aria-label="Log">
        <div className="room" style={{ height: virtual.getTotalSize() }} aria-hidden="true" />
        {virtual.getVirtualItems().map((item) => {
          const entry = nth(lines, item.index);
          const words = wordsOf(entry);
          return (
            <div
              key={entry.number}
              role="listitem"
              className={isOf(entry, 'amiss') ? 'amiss' : ''}
              style={{ top: item.start, height: ROW_PX }}
            >
              <span className="num">{atText(entry.atMs)}</span>
              <span>{words.what}</span>
              <span className="num muted">{words.bytes}</span>
              <span className="muted">{words.more}</span>
            </div>
          );
        })}
      </div>
    </>
  );
}

function isOf(entry: EveningEntry, kind: Kind): boolean {
  switch (kind) {
    case 'all':
      return true;
    case 'walk':
      return entry.kind !== 'message' && entry.kind !== 'note';
    case 'amiss':
      return (
        (entry.kind === 'message' && (entry.isLost || (entry.lateMs ?? 0) > LATE_MS)) || entry.kind === 'note'
      );
    default:
      return entry.kind === 'message' && entry.way === kind;
  }
}

/** Example: `0:14:07.904`. */
const atText = (ms: number): string =>
  `${minutes(Math.floor(ms / 1000))}.${String(Math.floor(ms % 1000)).padStart(3, '0')}`;

type Words = { readonly what: string; readonly bytes: string; readonly more: string };

function wordsOf(entry: EveningEntry): Words {
  const plain = (what: string, more = ''): Words => ({ what, bytes: '', more });
  switch (entry.kind) {
    case 'begin':
      return plain('the set began');
    case 'end':
      return plain('the set ended');
    case 'scene':
      return plain(`${entry.song}, ${entry.scene}`, 'scene');
    case 'pause':
      return plain(entry.name, 'break');
    case 'press':
      return plain(`pressed ${entry.label}`, entry.control);
    case 'note':
      return plain(entry.text);
    case 'message':
      return {
        what: `${entry.way === 'in' ? 'from' : 'to'} ${entry.port}`,
        bytes: entry.bytes,
        more: [
          entry.times > 1 ? `${entry.times} times, the last one` : '',
          entry.lateMs === null ? '' : `${entry.lateMs.toFixed(1)} ms after it was due`,
          entry.isLost ? 'nothing took it' : '',
        ]
          .filter(Boolean)
          .join(', '),
      };
  }
}

const logCsv = (log: EveningLog): string =>
  writeCsv(
    ['line', 'at ms', 'kind', 'what', 'bytes', 'times', 'late ms', 'lost'],
    log.entries.map((entry) => {
      const { what, bytes } = wordsOf(entry);
      const isMessage = entry.kind === 'message';
      return [
        String(entry.number),
        entry.atMs.toFixed(1),
        isMessage ? entry.way : entry.kind,
        what,
        bytes,
        isMessage ? String(entry.times) : '',
        isMessage && entry.lateMs !== null ? entry.lateMs.toFixed(1) : '',
        isMessage && entry.isLost ? 'yes' : '',
      ];
    }),
  );
