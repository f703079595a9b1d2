import { pressWords, worldOfFeet, type PlannedPart, type PressPlan } from '@idle-step/core/proof';
import type { World } from '@idle-step/core/engine';
import { barBeatAt, partName } from '@idle-step/core/show';
import { keysOf, nth } from '@idle-step/core/sure';
import { ChevronLeft, ChevronRight } from 'lucide-react';
import { useMemo, useState } from 'react';
import { Button } from 'react-bootstrap';
import { Link } from 'react-router-dom';
import { measure } from '@idle-step/contract';
import { useEdit } from '../../drafts/useDocs';
import { useWorld } from '../../live/use/useLive';
import { showOnStage, takeOffStage, usePlanSteps } from '../../proof/planOnStage';
import { foundIn, type FullShow, type useFeet } from '../../proof/useProof';
import { Cloth } from '../../ui/Cloth';
import { NumberField } from '../../ui/Fields';
import { IconButton } from '../../ui/IconButton';
import { counted } from '../../words/counted';
import { SearchLine } from './SearchLine';
import type { FeetChoice } from '../../proof/useFeetModel';

type Props = { show: FullShow; feet: ReturnType<typeof useFeet>; model: FeetChoice };

/** The fewest presses that play the set, as a line of music with the presses on it. */
export function PlanRoom({ show, feet, model }: Props) {
  const world = useMemo(() => worldOfFeet(show), [show]);
  const plan = foundIn(feet.state)?.plan;
  return (
    <section aria-label="Press plan" className="plan-room">
      <SearchLine {...feet} what="Looking for the fewest presses" />
      {plan && isOf(world, plan) && <Planned show={show} world={world} plan={plan} />}
      <FeetFields model={model} />
    </section>
  );
}

const isOf = (world: World, plan: PressPlan): boolean =>
  plan.parts.every((p) => world.songs[p.songIndex]?.parts[p.partIndex]?.sceneId === p.sceneId);

function Planned({ show, world, plan }: { show: FullShow; world: World; plan: PressPlan }) {
  const firstTight = plan.parts.find((p) => p.isTight || p.isOpen)?.songIndex ?? 0;
  const [chosen, setSong] = useState<number | null>(null);
  const live = useWorld();
  const isOnStage = usePlanSteps(live).length > 0;
  const songIndex = Math.min(chosen ?? firstTight, world.songs.length - 1);
  if (songIndex < 0) return <p>The set in play has no songs yet.</p>;
  const { song } = nth(world.songs, songIndex);
  const parts = plan.parts.filter((p) => p.songIndex === songIndex);
  const troubled = plan.parts.filter((p) => p.isTight || p.isOpen);
  const otherwise = plan.parts.filter((p) => p.otherwise.length > 0).length;
  return (
    <>
      <p className="proof-sum">
        {counted(plan.presses, 'press', 'presses')}, {plan.takesS.toFixed(1)} s of moving feet.{' '}
        <span className="muted">
          {plan.isProven
            ? 'No way plays the set in order with fewer.'
            : plan.open > 0
              ? 'Parts that no press leads to are left open.'
              : otherwise > 0
                ? 'Not every scene then stands as it says.'
                : 'Fewer may do: not everything was tried.'}
        </span>
        <span className="gap" />
        <Link to="/paper/plan" className="btn btn-quiet">
          On paper
        </Link>
        <Button
          variant="quiet"
          aria-pressed={isOnStage}
          onClick={() => (isOnStage ? takeOffStage() : showOnStage(live, plan))}
        >
          {isOnStage ? 'Take it off Stage' : 'Show it on Stage'}
        </Button>
        <Link to="/rehearse" className="btn btn-quiet" onClick={() => showOnStage(live, plan)}>
          Rehearse it
        </Link>
      </p>
      <div className="plan-head">
        <IconButton
          icon={ChevronLeft}
          label="The song before"
          disabled={songIndex === 0}
          onClick={() => setSong(songIndex - 1)}
        />
        <h2>
          {songIndex + 1} {song.name}
        </h2>
        <IconButton
          icon={ChevronRight}
          label="The next song"
          disabled={songIndex === world.songs.length - 1}
          onClick={() => setSong(songIndex + 1)}
        />
        <span className="muted">{counted(sum(parts), 'press', 'presses')}</span>
      </div>
      <PlanLine world={world} parts={parts} songIndex={songIndex} />
      {otherwise > 0 && (
        <p>
          In {counted(otherwise, 'part')} something then stands otherwise than the scene says:{' '}
          <Link to="/proof/reach">see Reach</Link>.
        </p>
      )}
      {troubled.length > 0 && (
        <>
          <h2>Places to look at</h2>
          <ul className="finding-list">
            {troubled.map((part) => (
              <Tight
                key={`${part.songIndex} ${part.partIndex}`}
                world={world}
                part={part}
                isByTime={show.songs[part.songIndex]?.line.partsByTime ?? false}
                onShow={setSong}
              />
            ))}
          </ul>
        </>
      )}
    </>
  );
}

const sum = (parts: readonly PlannedPart[]): number => parts.reduce((n, p) => n + p.presses.length, 0);

/** One song to scale: its parts, and what each foot does when. Where no lengths are known the parts are equally long. */
function PlanLine({
  world,
  parts,
  songIndex,
}: {
  world: World;
  parts: readonly PlannedPart[];
  songIndex: number;
}) {
  const { song, line, parts: all } = nth(world.songs, songIndex);
  const isToScale = line.parts.length > 0 && line.parts.every((p) => p.lengthS !== null);
  const lengths = all.map((_, i) => (isToScale ? (line.parts[i]?.lengthS ?? 1) : 1));
  const total = lengths.reduce((s, l) => s + l, 0) || 1;
  const starts = lengths.map((_, i) => lengths.slice(0, i).reduce((s, l) => s + l, 0) / total);
  const at = (i: number): React.CSSProperties => ({ left: `${(starts[i] ?? 0) * 100}%` });
  const wide = (i: number): React.CSSProperties => ({ width: `${((lengths[i] ?? 0) / total) * 100}%` });
  return (
    <div className="plan-line" role="region" aria-label={`Presses of ${song.name}`} tabIndex={0}>
      <div className="plan-row parts-row">
        <b className="plan-name" />
        <div>
          {all.map((part, i) => (
            <span key={part.id} className="plan-part" style={{ ...at(i), ...wide(i) }}>
              <Cloth
                text={partName(song, part)}
                lit={false}
                colour={song.scenes.find((s) => s.id === part.sceneId)?.colour ?? null}
              />
            </span>
          ))}
        </div>
      </div>
      {(['left', 'right'] as const).map((foot) => (
        <div key={foot} className="plan-row">
          <b className="plan-name">{foot === 'left' ? 'Left foot' : 'Right foot'}</b>
          <div>
            {parts.map((part) => {
              const own = part.presses.filter((p) => p.foot === foot);
              if (own.length === 0) return null;
              return (
                <span
                  key={part.partIndex}
                  className={`plan-press ${part.isTight ? 'tight' : ''}`}
                  style={{ ...at(part.partIndex), ...wide(part.partIndex) }}
                >
                  <i aria-hidden="true" />
                  <b>{own.map((p) => pressWords(world, p)).join(', ')}</b>
                  <span className="num">{timeText(part)}</span>
                </span>
              );
            })}
          </div>
        </div>
      ))}
      {parts.some((p) => p.onPedal.length > 0) && (
        <div className="plan-row">
          <b className="plan-name">On a pedal</b>
          <div>
            {parts.flatMap((part) =>
              part.onPedal.map(({ foot, controlId }) => (
                <span
                  key={`${part.partIndex} ${controlId}`}
                  className="plan-pedal"
                  style={{ ...at(part.partIndex), ...wide(part.partIndex) }}
                >
                  {foot}, {pressWords(world, { controlId, gesture: 'press' })}
                </span>
              )),
            )}
          </div>
        </div>
      )}
      <div className="plan-row bars-row">
        <b className="plan-name">{isToScale ? 'Bar' : 'Part'}</b>
        <div>
          {all.map((part, i) => {
            const beat = line.parts[i]?.atBeat ?? null;
            return (
              <span key={part.id} className="num" style={at(i)}>
                {isToScale && beat !== null ? barBeatAt(line, beat).bar : i + 1}
              </span>
            );
          })}
        </div>
      </div>
    </div>
  );
}

const s = (seconds: number): string => `${seconds.toFixed(1)} s`;

function timeText({ takesS, leavesS, isTight }: PlannedPart): string {
  if (isTight && leavesS !== null) return `${takesS.toFixed(1)} of ${s(leavesS)}`;
  return leavesS === null ? '' : s(leavesS);
}

function Tight({
  world,
  part,
  isByTime,
  onShow,
}: {
  world: World;
  part: PlannedPart;
  /** While its time line runs, its parts come by themselves. */
  isByTime: boolean;
  onShow(songIndex: number): void;
}) {
  const edit = useEdit('songs');
  const { song, parts, line } = nth(world.songs, part.songIndex);
  const name = `${song.name}, ${partName(song, nth(parts, part.partIndex))}`;
  const bar = line.parts[part.partIndex]?.atBeat ?? null;
  return (
    <li>
      <i className={`severity ${part.isOpen ? 'refused' : 'warned'}`} aria-hidden="true" />
      <div>
        <p>
          <b>{name}: </b>
          {part.isOpen
            ? 'no press leads there from the part before.'
            : `${part.presses.map((p) => `${p.foot} foot to ${pressWords(world, p)}, ${(p.distanceMm / 1000).toFixed(2)} m away`).join('; ')}: feet need ${s(part.takesS)}, the music leaves ${s(part.leavesS ?? 0)}.`}
        </p>
        {bar !== null && isByTime && (
          <p className="muted small">
            While the time line runs it comes by itself, at bar {barBeatAt(line, bar).bar}.
          </p>
        )}
      </div>
      <span className="finding-tools">
        {bar !== null && part.partIndex > 0 && !isByTime && (
          <Button
            variant="quiet"
            onClick={() =>
              edit(song.id, 'let parts come by themselves', (doc) => ({
                ...doc,
                line: { ...doc.line, partsByTime: true },
              }))
            }
          >
            Let it come by itself at bar {barBeatAt(line, bar).bar}
          </Button>
        )}
        <Button variant="quiet" onClick={() => onShow(part.songIndex)}>
          Look
        </Button>
      </span>
    </li>
  );
}

const Seconds = measure('This', 0, 5, 's');

const FEET_WORDS = {
  aS: 'To begin, s',
  bS: 'For each bit, s',
  tapS: 'On a switch, s',
  crossedS: 'Feet crossed, s',
} as const;

/** What feet need: the figures of the plan, to be made one's own. */
function FeetFields({ model: { model, change, reset } }: { model: FeetChoice }) {
  return (
    <details className="feet-fields">
      <summary>What feet need</summary>
      <p className="muted small">
        A movement takes the first figure, and the second for each bit of its difficulty (Fitts’s law, in
        Shannon’s form). The figures are our own choice: try how fast yours are.
      </p>
      <div className="dump-tools">
        {keysOf(FEET_WORDS).map((figure) => (
          <NumberField
            key={figure}
            label={FEET_WORDS[figure]}
            value={model[figure]}
            schema={Seconds}
            onCommit={(s) => change({ [figure]: s })}
          />
        ))}
        <Button variant="bare" onClick={reset}>
          As at first
        </Button>
      </div>
    </details>
  );
}
