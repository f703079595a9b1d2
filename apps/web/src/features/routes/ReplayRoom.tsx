import { type FullRig, portName } from '@idle-step/core/routing';
import { useFileChooser } from '../../files/useFileChooser';
import { readRecording, writeRecording } from '@idle-step/contract';
import { firstDifference, Replay, sentIn, timeOf, type SentBytes } from '@idle-step/core/engine';
import { describeMessage, encode, hex } from '@idle-step/core/midi';
import { CircleAlert, Download, FolderOpen, Pause, Play, SkipBack, SkipForward } from 'lucide-react';
import { useEffect, useRef, useState } from 'react';
import { Button } from 'react-bootstrap';
import { readTextFile, RECORDING_LIMIT } from '../../files/readTextFile';
import { saveTextFile } from '../../files/saveTextFile';
import { useLiveHost } from '../../live/use/useLive';
import { Pick } from '../../ui/Fields';
import { lastOf, there } from '@idle-step/core/sure';

/** Lines of what happened that are drawn. */
const SHOWN = 80;

type ReplayedEntry = {
  readonly key: number;
  readonly atMs: number;
  readonly came: string;
  readonly sent: readonly SentBytes[];
};
type Loaded = {
  readonly name: string;
  readonly replay: Replay;
  readonly sent: readonly SentBytes[];
};

/** The log of this rehearsal, to be kept as a file; and a kept one, played again at speed or step by step. */
export function ReplayRoom({ rig }: { rig: FullRig }) {
  const host = useLiveHost();
  const [loaded, setLoaded] = useState<Loaded | null>(null);
  const [error, setError] = useState<string | null>(null);
  const keep = () => {
    const kept = host.recorder.recording;
    if (!kept) return;
    const begun = kept.begun.toISOString();
    saveTextFile(
      `Rehearsal ${begun.slice(0, 16).replace('T', ' ').replace(':', '.')}.json`,
      'application/json',
      writeRecording(kept.recording, kept.sent, begun),
    );
  };
  const takeThis = () => {
    const kept = host.recorder.recording;
    if (kept)
      setLoaded({ name: 'this rehearsal so far', replay: new Replay(kept.recording), sent: kept.sent });
    setError(null);
  };
  const open = async (file: File) => {
    const text = await readTextFile(file, RECORDING_LIMIT, 'recordings');
    const read = text.error !== undefined ? { error: text.error } : readRecording(text.text);
    if (read.error !== undefined) {
      setError(`${file.name}: ${read.error}`);
      return;
    }
    setError(null);
    setLoaded({ name: file.name, replay: new Replay(read.recording), sent: read.sent });
  };
  const chooser = useFileChooser('Recording to open', '.json,application/json', (file) => void open(file));
  return (
    <section className="replay" aria-label="Replay">
      <div className="field-row">
        <Button variant="go" onClick={takeThis}>
          Replay this rehearsal
        </Button>
        <Button variant="quiet" onClick={keep}>
          <Download size={16} strokeWidth={1.75} aria-hidden="true" />
          Keep it as a file
        </Button>
        <Button variant="quiet" onClick={chooser.choose}>
          <FolderOpen size={16} strokeWidth={1.75} aria-hidden="true" />
          Open a kept one
        </Button>
        {chooser.input}
        <span className="muted small">
          {host.recorder.length.toLocaleString('en-GB')} events since the rig was opened
          {host.recorder.isFull ? '; the recording is full' : ''}
        </span>
      </div>
      {error && (
        <p className="field-error" role="alert">
          <CircleAlert size={14} aria-hidden="true" />
          {error}
        </p>
      )}
      {loaded ? (
        <Player
          key={loaded.name + loaded.sent.length}
          rig={rig}
          loaded={loaded}
          onAgain={(next) => setLoaded(next)}
        />
      ) : (
        <p className="muted">
          Everything that comes in, every press and every edit is recorded as you play. Played again it gives
          the same bytes, so what went wrong can be looked at in peace. Nothing is sent while replaying.
        </p>
      )}
    </section>
  );
}

const SPEEDS = [
  { value: 1, text: 'as it was' },
  { value: 4, text: 'four times as fast' },
  { value: 0, text: 'at once' },
] as const;

function Player({ rig, loaded, onAgain }: { rig: FullRig; loaded: Loaded; onAgain(next: Loaded): void }) {
  const { replay, sent, name } = loaded;
  const { entries, startedAtMs } = replay.recording;
  const player = usePlayer(rig, loaded);
  const { position, lines, isPlaying, speed, difference, failure, endMs } = player;
  const isOver = position >= entries.length || failure !== null;
  const atMs = replay.nextAtMs ?? endMs;
  return (
    <>
      <div className="field-row">
        <Button variant="go" disabled={isOver} onClick={() => player.setPlaying(!isPlaying)}>
          {isPlaying ? <Pause size={16} aria-hidden="true" /> : <Play size={16} aria-hidden="true" />}
          {isPlaying ? 'Pause' : 'Play'}
        </Button>
        <Button variant="quiet" disabled={isOver || isPlaying} onClick={() => player.advance(Infinity, 1)}>
          <SkipForward size={16} aria-hidden="true" />
          One step
        </Button>
        <Button
          variant="quiet"
          disabled={position === 0}
          onClick={() => {
            player.reset();
            onAgain({ ...loaded, replay: new Replay(replay.recording) });
          }}
        >
          <SkipBack size={16} aria-hidden="true" />
          From the start
        </Button>
        <Pick
          label="Speed"
          hideLabel
          value={speed}
          options={SPEEDS}
          onPick={(next) => player.setSpeed(next)}
        />
        <span className="num" role="status">
          {name}: {position} of {entries.length}, {seconds(atMs - startedAtMs)} of{' '}
          {seconds(endMs - startedAtMs)}
        </span>
      </div>
      {failure !== null && (
        <p className="verdict lost" role="alert">
          {failure}
        </p>
      )}
      {isOver && failure === null && (
        <p className={`verdict ${difference ? 'lost' : 'sound'}`} role="status">
          {difference
            ? `From message ${difference.index + 1} on other bytes are sent: ${difference.b?.bytes ?? 'nothing'} then, ${difference.a?.bytes ?? 'nothing'} now. It was recorded with another version.`
            : `The same bytes: ${sent.length} ${sent.length === 1 ? 'message' : 'messages'}, each at its time.`}
        </p>
      )}
      {lines.length > 0 && <ReplayLines rig={rig} lines={lines} startedAtMs={startedAtMs} />}
    </>
  );
}

function ReplayLines({
  rig,
  lines,
  startedAtMs,
}: {
  rig: FullRig;
  lines: readonly ReplayedEntry[];
  startedAtMs: number;
}) {
  return (
    <div className="pairs-room">
      <table className="pairs">
        <thead>
          <tr>
            <th scope="col">At</th>
            <th scope="col">What came</th>
            <th scope="col">What was sent</th>
          </tr>
        </thead>
        <tbody>
          {[...lines].reverse().map((line) => (
            <tr key={line.key}>
              <td className="num">{seconds(line.atMs - startedAtMs)}</td>
              <td>{line.came}</td>
              <td>
                {line.sent.map((s, i) => (
                  <span key={i} className="line-of">
                    <span className="num">{s.bytes}</span>{' '}
                    <span className="muted small">{portName(rig, s.portId)}</span>
                  </span>
                ))}
              </td>
            </tr>
          ))}
        </tbody>
      </table>
    </div>
  );
}

/** Plays a recording again, by itself or step by step, and says whether the same bytes are sent. */
function usePlayer(rig: FullRig, loaded: Loaded) {
  const { replay, sent } = loaded;
  const { entries, startedAtMs } = replay.recording;
  const [position, setPosition] = useState(replay.position);
  const [lines, setLines] = useState<readonly ReplayedEntry[]>([]);
  const [isPlaying, setPlaying] = useState(false);
  const [speed, setSpeed] = useState<number>(1);
  const again = useRef<SentBytes[]>([]);
  const [difference, setDifference] = useState<ReturnType<typeof firstDifference>>(null);
  const lineCount = useRef(0);
  const [failure, setFailure] = useState<string | null>(null);
  const endMs = entries.length > 0 ? timeOf(lastOf(entries)) : startedAtMs;

  const advance = (untilMs: number, count = Infinity): void => {
    const added: ReplayedEntry[] = [];
    for (let i = 0; i < count && replay.nextAtMs !== null && replay.nextAtMs <= untilMs; i++) {
      let done: NonNullable<ReturnType<Replay['next']>>;
      try {
        done = there(replay.next());
      } catch (error) {
        setFailure(
          `Entry ${replay.position} cannot be played: ${error instanceof Error ? error.message : String(error)}`,
        );
        setPlaying(false);
        return;
      }
      const now = sentIn(done.effects);
      again.current.push(...now);
      const came = wordsOf(rig, done.entry);
      if (came !== null || now.length > 0)
        added.push({
          key: ++lineCount.current,
          atMs: timeOf(done.entry),
          came: came ?? 'time passes',
          sent: now,
        });
    }
    setPosition(replay.position);
    if (replay.nextAtMs === null) setDifference(firstDifference(again.current, sent));
    if (added.length > 0) setLines((before) => [...before, ...added].slice(-SHOWN));
  };
  const latest = useRef(advance);
  useEffect(() => {
    latest.current = advance;
  });
  useEffect(() => {
    if (!isPlaying) return;
    if (speed === 0) {
      // In slices, so that a long evening can be stopped and is seen to go on.
      const timer = window.setInterval(() => {
        latest.current(Infinity, 2000);
        if (replay.nextAtMs === null) setPlaying(false);
      }, 0);
      return () => window.clearInterval(timer);
    }
    const began = performance.now();
    const fromMs = replay.nextAtMs ?? endMs;
    const timer = window.setInterval(() => {
      latest.current(fromMs + (performance.now() - began) * speed);
      if (replay.nextAtMs === null) setPlaying(false);
    }, 20);
    return () => window.clearInterval(timer);
  }, [isPlaying, speed, replay, endMs]);
  const reset = () => {
    setPlaying(false);
    again.current = [];
    setDifference(null);
    setFailure(null);
    setLines([]);
    setPosition(0);
  };
  return {
    position,
    lines,
    isPlaying,
    setPlaying,
    speed,
    setSpeed,
    difference,
    failure,
    endMs,
    advance,
    reset,
  };
}

const seconds = (ms: number): string => `${(ms / 1000).toFixed(3)} s`;

/** What happened, in words; `null` for mere passing of time. */
function wordsOf(rig: FullRig, entry: Replay['recording']['entries'][number]): string | null {
  if (entry.kind === 'show') return 'the rig, a preset or the set was edited';
  const { event } = entry;
  switch (event.kind) {
    case 'tick':
      return null;
    case 'message':
      return `${portName(rig, event.portId)}: ${describeMessage(event.message, rig.middleC)}, ${hex(encode(event.message))}`;
    case 'command':
      return COMMANDS[event.command.kind];
  }
}

const COMMANDS = {
  scene: 'went to a scene',
  go: 'went to a scene',
  song: 'went to a song',
  bank: 'turned a bank',
  page: 'turned a page',
  switch: 'pressed on the screen',
  move: 'moved on the screen',
  turn: 'turned on the screen',
  lamps: 'a board was plugged in',
  set: 'set a function on the screen',
  tap: 'tapped the tempo',
  line: 'ran or stopped the time line',
  cue: 'went to a cue',
  locate: 'moved in the time line',
  loop: 'switched the loop',
  route: 'switched a route or gate',
  learn: 'began or ended learning',
  'port-lost': 'a port was pulled out',
  'port-found': 'a port was plugged in',
  resume: 'the page was away and came back',
  show: 'walked the set',
  view: 'turned the view',
  key: 'pressed a key',
  here: 'switched click, blackout or hands off',
  panic: 'panic',
} as const;
