import { type Song, type Scene, tempoIn } from '@idle-step/core/show';
import { measure, Name, Remark, whole } from '@idle-step/contract';
import { Camera, ChevronLeft, ChevronRight, Copy, ListOrdered, Play, Split, Trash2 } from 'lucide-react';
import { lazy, Suspense, useState } from 'react';
import { Button } from 'react-bootstrap';
import { useEdit } from '../../../drafts/useDocs';
import { useIsShown, useLiveHost, useWorld } from '../../../live/use/useLive';
import { ColourPick } from '../../../ui/ColourPick';
import { CurvePick } from '../../../ui/CurvePick';
import { NumberField, Pick, TextField } from '../../../ui/Fields';
import { IconButton } from '../../../ui/IconButton';
import type { InHand } from '../sheet/inHand';
import { mapScene } from '@idle-step/core/sheet';
import {
  barsToSplit,
  withoutScene,
  withSceneCopy,
  withSceneMoved,
  withSceneSplit,
} from '../../../edits/songEdits';
import { GlideTime } from '../../../ui/GlideTime';
import { nth } from '@idle-step/core/sure';

const GlideChart = lazy(() => import('../time/GlideChart').then((m) => ({ default: m.GlideChart })));

export type SceneSheet = 'plan' | 'capture' | null;

type Props = {
  song: Song;
  sceneIndex: number;
  onPick(inHand: InHand): void;
  /** What is shown of this scene above the bar. */
  sheet: SceneSheet;
  onSheet(sheet: SceneSheet): void;
};

/** The scene in hand: its name, colour, remark, place and transition, and playing it. */
export function SceneBar({ song, sceneIndex, onPick, sheet, onSheet }: Props) {
  const edit = useEdit('songs');
  const host = useLiveHost();
  const world = useWorld();
  const scene = nth(song.scenes, sceneIndex);
  const isShown = useIsShown(song.rigId);
  const songIndex = world.songs.findIndex((s) => s.song.id === song.id);
  const change = (label: string, part: Partial<Scene>) =>
    edit(song.id, label, (s) => mapScene(s, scene.id, (x) => ({ ...x, ...part })));
  const move = (by: number) => {
    edit(song.id, 'move a scene', (s) => withSceneMoved(s, sceneIndex, sceneIndex + by));
    onPick({ kind: 'scene', sceneIndex: sceneIndex + by });
  };
  const add = (label: string, how: (s: Song, i: number, newId: string) => Song) => {
    const id = crypto.randomUUID();
    edit(song.id, label, (s) => how(s, sceneIndex, id));
    onPick({ kind: 'scene', sceneIndex: sceneIndex + 1 });
  };
  const remove = () => {
    edit(song.id, 'remove a scene', (s) => withoutScene(s, scene.id));
    onPick(null);
  };
  return (
    <section className="in-hand-bar scene-bar" aria-label="The scene in hand">
      <TextField
        label="Name of the scene"
        value={scene.name}
        schema={Name}
        onCommit={(name) => change('rename a scene', { name })}
      />
      <ColourPick
        label="Cloth"
        isLabelled
        value={scene.colour}
        onPick={(colour) => change('change the colour of a scene', { colour })}
      />
      <TextField
        label="Remark, large on the stage"
        value={scene.remark}
        schema={Remark}
        onCommit={(remark) => change('change a remark', { remark })}
      />
      <TransitionFields
        song={song}
        scene={scene}
        onChange={(transition) => change('change a transition', { transition })}
      />
      <span className="scene-tools">
        <IconButton
          line
          icon={ChevronLeft}
          label="Earlier"
          disabled={sceneIndex === 0}
          onClick={() => move(-1)}
        />
        <IconButton
          line
          icon={ChevronRight}
          label="Later"
          disabled={sceneIndex === song.scenes.length - 1}
          onClick={() => move(1)}
        />
        <IconButton
          line
          icon={Copy}
          label="Duplicate"
          onClick={() => add('duplicate a scene', withSceneCopy)}
        />
        <SplitScene
          key={`split ${scene.id}`}
          bars={barsToSplit(song, scene.id)}
          onSplit={(after) => add('split a scene', (s, i, newId) => withSceneSplit(s, i, newId, after))}
        />
        <IconButton line icon={Trash2} label="Remove; undo brings it back" onClick={remove} />
        <IconButton
          line
          icon={ListOrdered}
          label="What is sent to get here"
          pressed={sheet === 'plan'}
          onClick={() => onSheet('plan')}
        />
        <IconButton
          line
          icon={Camera}
          label="Capture what the rig stands at"
          pressed={sheet === 'capture'}
          onClick={() => onSheet('capture')}
        />
      </span>
      <span className="gap" />
      <Button
        variant="go"
        disabled={songIndex < 0}
        title={
          !isShown
            ? 'The set in play is being fetched'
            : songIndex < 0
              ? 'This song is not in the set in play; put it in under Sets, or choose another set above'
              : 'Send what this scene changes'
        }
        onClick={() => host.command({ kind: 'go', songIndex, sceneIndex })}
      >
        <Play size={16} strokeWidth={1.75} aria-hidden="true" />
        Recall now
      </Button>
    </section>
  );
}

/** At once, or over a time: ranges glide, the rest switches at a point of it. */
function TransitionFields({
  song,
  scene,
  onChange,
}: {
  song: Song;
  scene: Scene;
  onChange(transition: Scene['transition']): void;
}) {
  const { transition } = scene;
  const switches = [
    { value: '0', text: 'at the start' },
    { value: '0.5', text: 'halfway' },
    { value: '1', text: 'at the end' },
  ];
  return (
    <div className="own-way">
      <Pick
        label="Transition"
        value={transition ? 'glide' : 'at-once'}
        options={[{ value: 'at-once', text: 'at once' }, 'glide']}
        onPick={(kind) =>
          onChange(
            kind === 'at-once' ? null : { time: { amount: 4, unit: 'beats' }, curve: 'linear', switchAt: 0 },
          )
        }
      />
      {transition && (
        <>
          <GlideTime
            label="Time"
            unitLabel="Unit of the time"
            time={transition.time}
            onTime={(time) => onChange({ ...transition, time })}
          />
          <CurvePick
            label="Curve"
            value={transition.curve}
            onPick={(curve) => onChange({ ...transition, curve })}
          />
          {switches.some((s) => Number(s.value) === transition.switchAt) ? (
            <Pick
              label="The rest switches"
              value={String(transition.switchAt)}
              options={[...switches, { value: 'point', text: 'at a point' }]}
              onPick={(at) => onChange({ ...transition, switchAt: at === 'point' ? 0.25 : Number(at) })}
            />
          ) : (
            <NumberField
              label="The rest switches, %"
              className="tiny"
              value={Math.round(transition.switchAt * 100)}
              schema={measure('Point of switching', 0, 100, '%')}
              onCommit={(percent) => onChange({ ...transition, switchAt: percent / 100 })}
            />
          )}
          <Suspense fallback={<span className="glide-chart" />}>
            <GlideChart
              from={0}
              to={127}
              curve={transition.curve}
              time={transition.time}
              bpm={tempoIn(song, scene.id)}
            />
          </Suspense>
        </>
      )}
    </div>
  );
}

/** Splits a scene in two: where it is known how many bars it has, after as many as one says. */
function SplitScene({ bars, onSplit }: { bars: number | null; onSplit(afterBars: number | null): void }) {
  const [isAsked, setAsked] = useState(false);
  const [after, setAfter] = useState(() => Math.max(1, Math.floor((bars ?? 2) / 2)));
  const canSplit = bars !== null && bars > 1;
  const split = (to: number) => {
    setAsked(false);
    onSplit(to);
  };
  return (
    <>
      <IconButton
        line
        icon={Split}
        label="Split in two: the second carries everything over"
        pressed={canSplit ? isAsked : undefined}
        onClick={() => (canSplit ? setAsked(!isAsked) : onSplit(null))}
      />
      {isAsked && canSplit && (
        <span className="inline-field">
          <NumberField
            label={`Split after, of ${bars} bars`}
            className="narrow"
            value={after}
            schema={whole('Bars', 1, Math.ceil(bars) - 1)}
            onCommit={setAfter}
          />
          <Button variant="quiet" onClick={() => split(after)}>
            Split
          </Button>
        </span>
      )}
    </>
  );
}
