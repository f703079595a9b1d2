import type { FullRig } from '@idle-step/core/routing';
import {
  type Song,
  type SongLine,
  barBeatAt,
  bpmAt,
  partName,
  secondsAt,
  songLine,
} from '@idle-step/core/show';
import { Play, Plus, SkipBack, Spline, Square, ZoomIn, ZoomOut } from 'lucide-react';
import { useMemo, useState } from 'react';
import { Button } from 'react-bootstrap';
import { useEdit } from '../../../drafts/useDocs';
import { firstOpenPart, withBarsGiven, withLine, withNewCue, withNewTempo } from '../../../edits/lineEdits';
import { useIsShown, useLiveHost, useLiveState, usePlace, useWorld } from '../../../live/use/useLive';
import { IconButton } from '../../../ui/IconButton';
import { barBeatText, minutes } from '../../../words/times';
import { CueDetail } from '../sheet/CueDetail';
import { CurvePanel } from './CurvePanel';
import { LineSettings } from './LineSettings';
import { NowFigures } from './NowLine';
import { TempoDetail } from './TempoDetail';
import { TimeDrawing, type Held } from './TimeDrawing';
import { nth } from '@idle-step/core/sure';

/** The song in time, to scale: parts, tempo, cues, glides, layers, what the feet do, and where it is now. */
export function TimeRoom({ rig, song }: { rig: FullRig; song: Song }) {
  const edit = useEdit('songs');
  const world = useWorld();
  const place = usePlace();
  const [held, setHeld] = useState<Held>(null);
  const [zoom, setZoom] = useState(1);
  const [here, setHere] = useState(0);
  const [isDrawing, setDrawing] = useState(false);
  const line = useMemo(() => songLine(song), [song]);
  const total = drawnBeats(line);
  const isInPlay = world.songs[place.songIndex]?.song.id === song.id;
  const open = firstOpenPart(song);
  const change = (label: string, to: (s: Song) => Song) => edit(song.id, label, to);
  const cue = held?.kind === 'cue' ? song.line.cues.find((c) => c.id === held.id) : undefined;
  const tempo = held?.kind === 'tempo' ? song.line.tempos.find((t) => t.id === held.id) : undefined;
  const addCue = () => {
    const made = withNewCue(song, here);
    change('add a cue', () => made.song);
    setHeld({ kind: 'cue', id: made.cue.id });
  };
  const addTempo = () => {
    const { bar } = barBeatAt(line, here);
    const made = withNewTempo(song, Math.max(2, bar), bpmAt(line, here));
    change('add a change of tempo', () => made.song);
    setHeld({ kind: 'tempo', id: made.change.id });
  };
  const draw = () => {
    setHeld(null);
    setDrawing(!isDrawing);
  };
  return (
    <div className={cue || tempo || isDrawing ? 'time-room opened' : 'time-room'}>
      <div className="time-head">
        <PlayButtons song={song} isInPlay={isInPlay} here={here} />
        <NowFigures isInPlay={isInPlay} line={line} />
        <span className="small muted">
          {barBeatAt(line, total - 1e-6).bar} bars, {minutes(secondsAt(line, total))}
          {here > 0 && `, from bar ${barBeatText(barBeatAt(line, here))}`}
        </span>
        <span className="gap" />
        <Button variant="quiet" onClick={addCue}>
          <Plus size={16} strokeWidth={1.75} aria-hidden="true" />
          Cue
        </Button>
        <Button variant="quiet" onClick={addTempo}>
          <Plus size={16} strokeWidth={1.75} aria-hidden="true" />
          Tempo
        </Button>
        <Button variant="quiet" aria-expanded={isDrawing} onClick={draw}>
          <Spline size={16} strokeWidth={1.75} aria-hidden="true" />
          Curve
        </Button>
        <IconButton
          icon={ZoomOut}
          label="Draw the whole song"
          onClick={() => setZoom(Math.max(1, zoom / 2))}
        />
        <IconButton icon={ZoomIn} label="Draw it larger" onClick={() => setZoom(Math.min(16, zoom * 2))} />
      </div>
      {open >= 0 && (
        <p className="small line-open">
          The length of {partName(song, nth(line.parts, open).part)} is not known, so what comes after it has
          no place in time.{' '}
          <Button variant="quiet" onClick={() => change('give parts a length', (s) => withBarsGiven(s, 8))}>
            8 bars where unknown
          </Button>
        </p>
      )}
      <TimeDrawing
        rig={rig}
        song={song}
        line={line}
        total={total}
        zoom={zoom}
        held={held}
        here={here}
        isInPlay={isInPlay}
        change={change}
        onHold={setHeld}
        onHere={setHere}
      />
      {cue ? (
        <CueDetail song={song} cue={cue} line={line} isInPlay={isInPlay} onClose={() => setHeld(null)} />
      ) : tempo ? (
        <TempoDetail song={song} tempo={tempo} onClose={() => setHeld(null)} />
      ) : isDrawing ? (
        <CurvePanel {...{ song, line, total, here }} onClose={() => setDrawing(false)} />
      ) : (
        <LineSettings
          rig={rig}
          song={song}
          onChange={(label, part) => change(label, (s) => withLine(s, part))}
          onCountIn={(countInBars) => change('change the count-in', (s) => ({ ...s, countInBars }))}
        />
      )}
    </div>
  );
}

/** Beats that are drawn: the song as far as its length is known, and what stands behind that. */
function drawnBeats(line: SongLine): number {
  const known = line.parts.reduce((end, p) => (p.atBeat === null ? end : p.atBeat + (p.beats ?? 0)), 0);
  return Math.max(line.beats ?? known, (line.cues.at(-1)?.atBeat ?? 0) + 4, 16);
}

function PlayButtons({ song, isInPlay, here }: { song: Song; isInPlay: boolean; here: number }) {
  const host = useLiveHost();
  const world = useWorld();
  const { line } = useLiveState('line');
  // The set in play has come.
  const isShown = useIsShown(song.rigId);
  const songIndex = world.songs.findIndex((s) => s.song.id === song.id);
  const playFrom = (beat: number) => {
    if (!isInPlay) host.command({ kind: 'go', songIndex, sceneIndex: 0 });
    if (beat > 0) {
      host.command({ kind: 'locate', beat });
      host.command({ kind: 'line', to: 'continue' });
    } else host.command({ kind: 'line', to: 'start' });
  };
  if (!isShown) return <span className="small muted">Fetching the set in play …</span>;
  if (songIndex < 0)
    return <span className="small muted">Not in the set in play: put it into the set to hear it run.</span>;
  const runs = isInPlay && (line?.isRunning ?? false);
  return (
    <>
      <IconButton line icon={SkipBack} label="Run from the beginning" onClick={() => playFrom(0)} />
      {runs ? (
        <Button variant="quiet" onClick={() => host.command({ kind: 'line', to: 'stop' })}>
          <Square size={16} strokeWidth={1.75} aria-hidden="true" />
          Stop
        </Button>
      ) : (
        <Button variant="go" onClick={() => playFrom(here)}>
          <Play size={16} strokeWidth={1.75} aria-hidden="true" />
          {here > 0 ? 'Run from here' : 'Run'}
        </Button>
      )}
    </>
  );
}
