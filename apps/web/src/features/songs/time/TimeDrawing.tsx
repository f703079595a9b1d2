import type { FullRig } from '@idle-step/core/routing';
import {
  type Song,
  type SongLine,
  barBeatAt,
  barQuarters,
  barText,
  beatAt,
  meterAt,
  partName,
  quartersOf,
  secondsAt,
} from '@idle-step/core/show';
import { useMemo } from 'react';
import { mapCue, mapTempo, placeNear, withoutCue, withoutTempo, withPartEnd } from '../../../edits/lineEdits';
import { feetOf, layerRows, rangeWords } from '../../../edits/lineRows';
import { useWorld } from '../../../live/use/useLive';
import { Cloth } from '../../../ui/Cloth';
import { useMeasure } from '../../../ui/hooks/useMeasure';
import { barBeatText, bpmText, minutes } from '../../../words/times';
import { useGlides } from '../files/songPlayer';
import { LineItem } from './LineItem';
import { LineRow } from './LineRow';
import { NowLine } from './NowLine';
import { lastOf, there } from '@idle-step/core/sure';

/** What is in hand in the drawing. */
export type Held = { readonly kind: 'cue' | 'tempo'; readonly id: string } | null;

/** A bar number for so many px at the most. */
const PX_A_LABEL = 52;
/** Names of lines take so many px. */
const NAMES_PX = 136;

/** What every row of the drawing is made from. */
type Drawn = {
  readonly song: Song;
  readonly line: SongLine;
  /** Its length in beats. */
  readonly total: number;
  change(label: string, to: (s: Song) => Song): void;
};

type InHand = { readonly held: Held; onHold(held: Held): void };

const percent = (beat: number, total: number) => `${(beat / total) * 100}%`;

/** The place of something that lasts. */
const spanOf = (from: number, beats: number, total: number) => ({
  left: percent(from, total),
  width: percent(beats, total),
});

/** The song in time, to scale. */
export function TimeDrawing({
  rig,
  zoom,
  held,
  here,
  isInPlay,
  onHold,
  onHere,
  ...drawn
}: Drawn &
  InHand & {
    readonly rig: FullRig;
    readonly zoom: number;
    /** The beat to run from. */
    readonly here: number;
    readonly isInPlay: boolean;
    onHere(beat: number): void;
  }) {
  const { song, line, total } = drawn;
  const world = useWorld();
  const glides = useGlides(world, song);
  const [scroll, widthPx] = useMeasure(720);
  const linePx = (widthPx - NAMES_PX) * zoom;
  return (
    <div className="line-scroll" data-own-keys ref={scroll}>
      <div className="line-drawing" style={{ width: `${zoom * 100}%` }}>
        <PartRow {...drawn} linePx={linePx} onHere={onHere} />
        <LineRow name="Bar, time" className="bar-row">
          <Ruler
            line={line}
            total={total}
            labels={linePx / PX_A_LABEL}
            starts={line.parts.flatMap((p) => p.atBeat ?? [])}
            onPick={onHere}
          />
          {line.loop && (
            <span
              className="line-loop"
              style={spanOf(line.loop.from, line.loop.to - line.loop.from, total)}
              title={`Loop, bars ${there(song.line.loop).fromBar} to ${there(song.line.loop).toBar}`}
            />
          )}
          <span className="here-mark" style={{ left: percent(here, total) }} aria-hidden="true" />
        </LineRow>
        <TempoRow {...drawn} held={held} onHold={onHold} />
        <CueRow {...drawn} held={held} onHold={onHold} />
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
        <LayerRows {...drawn} rig={rig} />
        <FeetRow {...drawn} />
        <div className="now-track" aria-hidden="true">
          <NowLine isInPlay={isInPlay} total={total} />
        </div>
      </div>
    </div>
  );
}

function PartRow({
  song,
  line,
  total,
  change,
  linePx,
  onHere,
}: Drawn & { linePx: number; onHere(beat: number): void }) {
  const isAgain = (sceneId: string, i: number) => line.parts.findIndex((p) => p.part.sceneId === sceneId) < i;
  return (
    <LineRow name="Parts" className="part-row">
      {line.parts.map(({ part, atBeat, beats }, i) =>
        atBeat === null ? null : (
          <span key={part.id} className="line-part" style={spanOf(atBeat, beats ?? total - atBeat, total)}>
            <Cloth
              text={partName(song, part)}
              colour={song.scenes.find((s) => s.id === part.sceneId)?.colour ?? null}
            />
            {isAgain(part.sceneId, i) && ((beats ?? 0) / total) * linePx > 110 && (
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
            onPick={() => onHere(atBeat)}
            onMove={(beat) => change('change the length of a part', (s) => withPartEnd(s, i, beat))}
          />
        ),
      )}
    </LineRow>
  );
}

function TempoRow({ song, line, total, change, held, onHold }: Drawn & InHand) {
  return (
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
            onPick={() => onHold({ kind: 'tempo', id: t.id })}
            onMove={(to) => change('move a change of tempo', (s) => mapTempo(s, t.id, placeNear(line, to)))}
            onRemove={() => change('remove a change of tempo', (s) => withoutTempo(s, t.id))}
          >
            {tempoText(t)}
          </LineItem>
        );
      })}
    </LineRow>
  );
}

function CueRow({ line, total, change, held, onHold }: Drawn & InHand) {
  return (
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
          onPick={() => onHold({ kind: 'cue', id: c.id })}
          onMove={(to) => change('move a cue', (s) => mapCue(s, c.id, placeNear(line, to)))}
          onRemove={() => change('remove a cue', (s) => withoutCue(s, c.id))}
        >
          <span>{c.name || `cue ${i + 1}`}</span>
        </LineItem>
      ))}
    </LineRow>
  );
}

function LayerRows({ rig, song, line, total }: Drawn & { rig: FullRig }) {
  const world = useWorld();
  const layers = useMemo(() => layerRows(world, song, line), [world, song, line]);
  return layers.map(({ layer, spans }) => (
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
          style={spanOf(s.from, s.to - s.from, total)}
        >
          {rangeWords(layer.route, rig.middleC)}
        </span>
      ))}
    </LineRow>
  ));
}

function FeetRow({ song, line, total }: Drawn) {
  const world = useWorld();
  const feet = useMemo(() => feetOf(world, song), [world, song]);
  return (
    <LineRow name="Feet" className="feet-row">
      {line.parts.map(({ part, atBeat, beats }, i) =>
        atBeat === null || !feet[i] ? null : (
          <span
            key={part.id}
            className="line-foot num"
            style={spanOf(atBeat, beats ?? total - atBeat, total)}
          >
            {feet[i]}
          </span>
        ),
      )}
    </LineRow>
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

/** Bar numbers with their times, as many as there is room for; a click says where to run from. */
function Ruler({
  line,
  total,
  labels,
  starts,
  onPick,
}: {
  line: SongLine;
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
            style={{ left: percent(beat, total) }}
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
function tempoPoints(line: SongLine, total: number): readonly (readonly [number, number])[] {
  const all = line.tempos.map((t) => t.bpm);
  const [low, high] = [Math.min(...all), Math.max(...all)];
  const share = (bpm: number) => (high > low ? (bpm - low) / (high - low) : 1);
  return [...line.tempos.map((t) => [t.atBeat, share(t.bpm)] as const), [total, share(lastOf(all))] as const];
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
