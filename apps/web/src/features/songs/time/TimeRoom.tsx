import type { FullRig } from '@idle-step/core/routing';
import {
  type Song,
  barBeatAt,
  barQuarters,
  barText,
  beatAt,
  bpmAt,
  meterAt,
  partName,
  quartersOf,
  secondsAt,
  songLine,
} from '@idle-step/core/show';
import { Play, Plus, SkipBack, Square, ZoomIn, ZoomOut } from 'lucide-react';
import { useMemo, useState } from 'react';
import { Button } from 'react-bootstrap';
import { useEdit } from '../../../drafts/useDocs';
import { useIsShown, useLiveHost, useLiveState, usePlace, useWorld } from '../../../live/use/useLive';
import { Cloth } from '../../../ui/Cloth';
import { IconButton } from '../../../ui/IconButton';
import { useMeasure } from '../../../ui/useMeasure';
import {
  firstOpenPart,
  mapCue,
  mapTempo,
  placeNear,
  withBarsGiven,
  withLine,
  withNewCue,
  withNewTempo,
  withoutCue,
  withoutTempo,
  withPartEnd,
} from '../../../edits/lineEdits';
import { feetOf, layerRows, rangeWords } from '../../../edits/lineRows';
import { barBeatText, bpmText, minutes } from '../../../words/times';
import { CueDetail } from '../sheet/CueDetail';
import { LineItem } from './LineItem';
import { LineRow } from './LineRow';
import { LineSettings } from './LineSettings';
import { NowFigures, NowLine } from './NowLine';
import { useGlides } from '../files/songPlayer';
import { TempoDetail } from './TempoDetail';

/** What is in hand in the drawing. */
type Held = { readonly kind: 'cue' | 'tempo'; readonly id: string } | null;

/** A bar number for so many px at the most. Our own choice. */
const PX_A_LABEL = 52;
/** Names of lines take so many px. */
const NAMES_PX = 136;

/** The song in time, to scale: parts, tempo, cues, glides, layers, what the feet do, and where it is now. */
export function TimeRoom({ rig, song }: { rig: FullRig; song: Song }) {
  const edit = useEdit('songs');
  const host = useLiveHost();
  const world = useWorld();
  const place = usePlace();
  const [held, setHeld] = useState<Held>(null);
  const [zoom, setZoom] = useState(1);
  const [here, setHere] = useState(0);
  const [scroll, widthPx] = useMeasure(720);
  const line = useMemo(() => songLine(song), [song]);
  const glides = useGlides(world, song);
  const layers = useMemo(() => layerRows(world, song, line), [world, song, line]);
  const feet = useMemo(() => feetOf(world, song), [world, song]);
  const known = line.parts.reduce((end, p) => (p.atBeat === null ? end : p.atBeat + (p.beats ?? 0)), 0);
  const lastCue = line.cues.at(-1)?.atBeat ?? 0;
  const total = Math.max(line.beats ?? known, lastCue + 4, 16);
  const bars = barBeatAt(line, total - 1e-6).bar;
  const isShown = useIsShown(song.rigId);
  const songIndex = world.songs.findIndex((s) => s.song.id === song.id);
  const isInPlay = world.songs[place.songIndex]?.song.id === song.id;
  const open = firstOpenPart(song);
  const change = (label: string, to: (s: Song) => Song) => edit(song.id, label, to);
  const percent = (beat: number) => `${(beat / total) * 100}%`;
  const cue = held?.kind === 'cue' ? song.line.cues.find((c) => c.id === held.id) : undefined;
  const tempo = held?.kind === 'tempo' ? song.line.tempos.find((t) => t.id === held.id) : undefined;
  const playFrom = (beat: number) => {
    if (!isInPlay) host.command({ kind: 'go', songIndex, sceneIndex: 0 });
    if (beat > 0) {
      host.command({ kind: 'locate', beat });
      host.command({ kind: 'line', to: 'continue' });
    } else host.command({ kind: 'line', to: 'start' });
  };
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
  return (
    <div className="time-room">
      <div className="time-head">
        <PlayButtons
          isInPlay={isInPlay}
          isInSet={songIndex >= 0}
          isShown={isShown}
          here={here}
          onPlay={playFrom}
        />
        <NowFigures isInPlay={isInPlay} line={line} />
        <span className="small muted">
          {bars} bars, {minutes(secondsAt(line, total))}
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
        <IconButton
          icon={ZoomOut}
          label="Draw the whole song"
          onClick={() => setZoom(Math.max(1, zoom / 2))}
        />
        <IconButton icon={ZoomIn} label="Draw it larger" onClick={() => setZoom(Math.min(16, zoom * 2))} />
      </div>
      {open >= 0 && (
        <p className="small line-open">
          The length of {partName(song, line.parts[open]!.part)} is not known, so what comes after it has no
          place in time.{' '}
          <Button variant="quiet" onClick={() => change('give parts a length', (s) => withBarsGiven(s, 8))}>
            8 bars where unknown
          </Button>
        </p>
      )}
      <div className="line-scroll" data-own-keys ref={scroll}>
        <div className="line-drawing" style={{ width: `${zoom * 100}%` }}>
          <LineRow name="Parts" className="part-row">
            {line.parts.map(({ part, atBeat, beats }, i) =>
              atBeat === null ? null : (
                <span
                  key={part.id}
                  className="line-part"
                  style={{ left: percent(atBeat), width: percent(beats ?? total - atBeat) }}
                >
                  <Cloth
                    text={partName(song, part)}
                    colour={song.scenes.find((s) => s.id === part.sceneId)?.colour ?? null}
                  />
                  {line.parts.findIndex((p) => p.part.sceneId === part.sceneId) < i &&
                    ((beats ?? 0) / total) * (widthPx - NAMES_PX) * zoom > 110 && (
                      <small className="again">again</small>
                    )}
                </span>
              ),
            )}
            {line.parts.map(({ part, atBeat, beats }, i) =>
              atBeat === null || beats === null ? null : (
                <LineItem
                  key={part.id}
                  label={`End of ${partName(song, part)}`}
                  className="part-end"
                  beat={atBeat + beats}
                  total={total}
                  step={barQuarters(meterAt(line, atBeat))}
                  bigStep={barQuarters(meterAt(line, atBeat)) * 4}
                  onPick={() => setHere(atBeat)}
                  onMove={(beat) => change('change the length of a part', (s) => withPartEnd(s, i, beat))}
                />
              ),
            )}
          </LineRow>
          <LineRow name="Bar, time" className="bar-row">
            <Ruler
              line={line}
              total={total}
              labels={((widthPx - NAMES_PX) * zoom) / PX_A_LABEL}
              starts={line.parts.flatMap((p) => p.atBeat ?? [])}
              onPick={setHere}
            />
            {line.loop && (
              <span
                className="line-loop"
                style={{ left: percent(line.loop.from), width: percent(line.loop.to - line.loop.from) }}
                title={`Loop, bars ${song.line.loop!.fromBar} to ${song.line.loop!.toBar}`}
              />
            )}
            <span className="here-mark" style={{ left: percent(here) }} aria-hidden="true" />
          </LineRow>
          <LineRow name="Tempo" className="tempo-row">
            <Curve points={tempoPoints(line, total)} total={total} />
            <span className="tempo-word num">{bpmText(song.tempoBpm)}</span>
            {song.line.tempos.map((t) => {
              const beat = beatAt(line, t);
              return (
                <LineItem
                  key={t.id}
                  label={`Tempo ${tempoText(t)} in bar ${barBeatText(t)}`}
                  className="line-tempo num"
                  beat={beat}
                  total={total}
                  step={quartersOf(meterAt(line, beat).beatUnit)}
                  bigStep={barQuarters(meterAt(line, beat))}
                  isInHand={held?.id === t.id}
                  onPick={() => setHeld({ kind: 'tempo', id: t.id })}
                  onMove={(to) =>
                    change('move a change of tempo', (s) => mapTempo(s, t.id, placeNear(line, to)))
                  }
                  onRemove={() => change('remove a change of tempo', (s) => withoutTempo(s, t.id))}
                >
                  {tempoText(t)}
                </LineItem>
              );
            })}
          </LineRow>
          <LineRow name="Cues" className="cue-row">
            {line.cues.map(({ cue: c, atBeat }, i) => (
              <LineItem
                key={c.id}
                label={`Cue ${c.name || i + 1}, bar ${barBeatText(c)}`}
                className="line-cue"
                beat={atBeat}
                beats={Math.max(0.01, (line.cues[i + 1]?.atBeat ?? total) - atBeat)}
                total={total}
                step={quartersOf(meterAt(line, atBeat).beatUnit)}
                bigStep={barQuarters(meterAt(line, atBeat))}
                isInHand={held?.id === c.id}
                onPick={() => setHeld({ kind: 'cue', id: c.id })}
                onMove={(to) => change('move a cue', (s) => mapCue(s, c.id, placeNear(line, to)))}
                onRemove={() => change('remove a cue', (s) => withoutCue(s, c.id))}
              >
                <span>{c.name || `cue ${i + 1}`}</span>
              </LineItem>
            ))}
          </LineRow>
          {glides.map(({ device, fn, points }) => (
            <LineRow
              key={fn.id}
              name={fn.name}
              mark={device.mark}
              deviceName={device.name}
              className="glide-row"
            >
              <Curve
                points={points.map((p) => [p.beat, p.share] as const)}
                total={total}
                colour={device.mark.colour}
                stepped
              />
            </LineRow>
          ))}
          {layers.map(({ layer, spans }) => (
            <LineRow
              key={layer.route.id}
              name={layer.route.name}
              {...(layer.level ? { mark: layer.level.device.mark, deviceName: layer.level.device.name } : {})}
              className="layer-row"
            >
              {spans.map((s) => (
                <span
                  key={s.from}
                  className={`line-layer tape-${layer.level?.device.mark.colour ?? 'slate'}`}
                  style={{ left: percent(s.from), width: percent(s.to - s.from) }}
                >
                  {rangeWords(layer.route, rig.middleC)}
                </span>
              ))}
            </LineRow>
          ))}
          <LineRow name="Feet" className="feet-row">
            {line.parts.map(({ part, atBeat, beats }, i) =>
              atBeat === null || !feet[i] ? null : (
                <span
                  key={part.id}
                  className="line-foot num"
                  style={{ left: percent(atBeat), width: percent(beats ?? total - atBeat) }}
                >
                  {feet[i]}
                </span>
              ),
            )}
          </LineRow>
          <div className="now-track" aria-hidden="true">
            <NowLine isInPlay={isInPlay} total={total} />
          </div>
        </div>
      </div>
      {cue ? (
        <CueDetail song={song} cue={cue} line={line} isInPlay={isInPlay} onClose={() => setHeld(null)} />
      ) : tempo ? (
        <TempoDetail song={song} tempo={tempo} onClose={() => setHeld(null)} />
      ) : (
        <LineSettings
          rig={rig}
          song={song}
          onChange={(label, part) => change(label, (s) => withLine(s, part))}
        />
      )}
    </div>
  );
}

/** Example: `92`, `3/4`, `92, 6/8`. */
const tempoText = ({ bpm, beatsPerBar, beatUnit }: Song['line']['tempos'][number]): string =>
  [
    bpm === null ? '' : bpmText(bpm),
    beatsPerBar === null ? '' : barText({ beatsPerBar, beatUnit: beatUnit ?? 4 }),
  ]
    .filter(Boolean)
    .join(', ');

function PlayButtons({
  isInPlay,
  isInSet,
  isShown,
  here,
  onPlay,
}: {
  isInPlay: boolean;
  isInSet: boolean;
  /** The set in play has come. */
  isShown: boolean;
  here: number;
  onPlay(beat: number): void;
}) {
  const host = useLiveHost();
  const { line } = useLiveState('line');
  if (!isShown) return <span className="small muted">Fetching the set in play …</span>;
  if (!isInSet)
    return <span className="small muted">Not in the set in play: put it into the set to hear it run.</span>;
  const runs = isInPlay && (line?.isRunning ?? false);
  return (
    <>
      <IconButton line icon={SkipBack} label="Run from the beginning" onClick={() => onPlay(0)} />
      {runs ? (
        <Button variant="quiet" onClick={() => host.command({ kind: 'line', to: 'stop' })}>
          <Square size={16} strokeWidth={1.75} aria-hidden="true" />
          Stop
        </Button>
      ) : (
        <Button variant="go" onClick={() => onPlay(here)}>
          <Play size={16} strokeWidth={1.75} aria-hidden="true" />
          {here > 0 ? 'Run from here' : 'Run'}
        </Button>
      )}
    </>
  );
}

/** Bar numbers with their times, as many as there is room for; a click says where to run from. */
function Ruler({
  line,
  total,
  labels,
  starts,
  onPick,
}: {
  line: ReturnType<typeof songLine>;
  total: number;
  labels: number;
  starts: readonly number[];
  onPick(beat: number): void;
}) {
  const bars = barBeatAt(line, total - 1e-6).bar;
  const every = [1, 2, 4, 8, 16, 32, 64, 128].find((n) => bars / n <= labels) ?? 256;
  const gap = total / labels;
  // Parts come first; the bars between them where there is room.
  const shown: number[] = [];
  for (const beat of [
    ...starts,
    ...Array.from({ length: Math.ceil(bars / every) }, (_, i) =>
      beatAt(line, { bar: i * every + 1, beat: 1 }),
    ),
  ])
    if (shown.every((other) => Math.abs(other - beat) >= gap)) shown.push(beat);
  return (
    <>
      {shown
        .sort((a, b) => a - b)
        .map((beat) => (
          <button
            key={beat}
            type="button"
            className="bar-label num"
            style={{ left: `${(beat / total) * 100}%` }}
            onClick={() => onPick(beat)}
            title="Run from here"
          >
            {barBeatText(barBeatAt(line, beat))}
            <small>{minutes(secondsAt(line, beat))}</small>
          </button>
        ))}
    </>
  );
}

/** Tempo as heights: the lowest tempo at the bottom. */
function tempoPoints(
  line: ReturnType<typeof songLine>,
  total: number,
): readonly (readonly [number, number])[] {
  const all = line.tempos.map((t) => t.bpm);
  const [low, high] = [Math.min(...all), Math.max(...all)];
  const share = (bpm: number) => (high > low ? (bpm - low) / (high - low) : 1);
  return [...line.tempos.map((t) => [t.atBeat, share(t.bpm)] as const), [total, share(all.at(-1)!)] as const];
}

function Curve({
  points,
  total,
  colour,
  stepped = false,
}: {
  points: readonly (readonly [number, number])[];
  total: number;
  colour?: string;
  stepped?: boolean;
}) {
  const y = (share: number) => 26 - share * 20;
  const path = points
    .map(([beat, share], i) => {
      const x = (beat / total) * 1000;
      return i === 0 ? `M${x} ${y(share)}` : stepped ? `H${x}V${y(share)}` : `L${x} ${y(share)}`;
    })
    .join('');
  return (
    <svg
      className={`line-curve ${colour ? `tape-${colour}` : ''}`}
      viewBox="0 0 1000 32"
      preserveAspectRatio="none"
      aria-hidden="true"
    >
      <path d={stepped ? `${path}H1000` : path} vectorEffect="non-scaling-stroke" />
    </svg>
  );
}
