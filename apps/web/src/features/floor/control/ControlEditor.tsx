import { boardMarks } from '@idle-step/core/proof';
import type { FullRig } from '@idle-step/core/routing';
import {
  type Board,
  type Control,
  type Preset,
  type Bank,
  type Assignment,
  type Action,
  actionsOf,
  gestureWants,
  isPressed,
  onlyTaps,
  plainResponse,
  turnsPages,
  withAssignments,
  type ActionListName,
} from '@idle-step/core/floor';
import { Remark } from '@idle-step/contract';
import { labelOf, sceneWorkOf } from '@idle-step/core/engine';
import { BookOpen, Play, SlidersHorizontal } from 'lucide-react';
import { useState } from 'react';
import { Button } from 'react-bootstrap';
import { Link } from 'react-router-dom';
import { z } from 'zod';
import { useEdit } from '../../../drafts/useDocs';
import { useLiveHost, useLiveOf, usePlace, useSongIndex, useWorld } from '../../../live/use/useLive';
import { Cloth } from '../../../ui/Cloth';
import { TextField } from '../../../ui/Fields';
import { ActionList } from './ActionList';
import { ColourPick } from '../../../ui/ColourPick';
import { CopyTo } from '../presets/CopyTo';
import { FeelFields, OwnTouch } from '../board/FeelFields';
import { GestureTimes } from '../board/GestureTimes';
import { LampFields } from './LampFields';
import { MoveFields } from './MoveFields';
import { assignmentOf, withAssignment } from '../../../edits/presetEdits';
import { SweepList } from './SweepList';
import { messageWords } from '../../../boards/useLearn';
import { WirePanel } from '../board/WirePanel';

const Label = z.string().trim().max(40, { error: 'The label is longer than 40 characters.' });

/** How long a test press holds the switch down, in ms. */
const TEST_PRESS_MS = 150;

type Props = { rig: FullRig; preset: Preset; bank: Bank; boardIndex: number; controlId: string };

/** What the control in hand does in the bank, or on the page of its group, that is in force. */
export function ControlEditor({ rig, preset, controlId, bank, boardIndex }: Props) {
  const edit = useEdit('presets');
  const world = useWorld();
  const [openAction, setOpenAction] = useState<string | null>(null);
  const [isOpen, setOpen] = useState(false);
  const worldBoard = world.boards[boardIndex];
  const control = worldBoard?.board.controls.find((c) => c.id === controlId);
  if (!worldBoard || !control) return null;
  const { board } = worldBoard;
  const assignment = assignmentOf(controlId, bank);
  const change = (label: string, part: Partial<Assignment>) =>
    edit(preset.id, label, (p) => {
      const pages = [...p.banks, ...p.groups.flatMap((g) => g.pages)];
      const now = assignmentOf(
        controlId,
        pages.find((b) => b.id === bank.id),
      );
      return withAssignment(p, bank.id, { ...now, ...part });
    });
  const isMoved = !isPressed(control.kind);
  const all = actionsOf(assignment);
  const shown = all.find((a) => a.id === openAction) ?? all[0] ?? null;
  const list = (gesture: ActionListName) => (
    <ActionList
      rig={rig}
      boardIndex={boardIndex}
      gesture={gesture}
      wants={gestureWants(assignment)}
      actions={assignment[gesture]}
      openId={openAction}
      onOpen={setOpenAction}
      onChange={(what, actions: Action[]) => change(what, { [gesture]: actions })}
    />
  );
  const sameKind = board.controls.filter((c) => c.kind === control.kind && c.id !== controlId);
  const forAll = () =>
    edit(preset.id, 'set all of a kind', (p) => {
      const page = [...p.banks, ...p.groups.flatMap((g) => g.pages)].find((b) => b.id === bank.id);
      const put = new Map(
        sameKind.flatMap((c) => {
          const other = page?.assignments.find((a) => a.controlId === c.id);
          return other ? [[c.id, { ...other, response: assignment.response }] as const] : [];
        }),
      );
      return withAssignments(p, new Map([[bank.id, put]]));
    });
  return (
    <section className="control-editor" aria-label={`What ${control.name} does`}>
      <ControlHead
        {...{ preset, board, control, assignment, bank, isOpen }}
        channel={control.channel ?? worldBoard.device.channel}
        onOpen={() => setOpen(!isOpen)}
        onLabel={(text) => change('change a label', { label: text })}
      />
      {isOpen && <ControlMore {...{ preset, board, control, assignment }} onChange={change} />}
      <ControlWarnings {...{ board, control, assignment }} />
      <SceneSays control={control} />
      {isMoved ? (
        <>
          <MoveFields
            control={control}
            assignment={assignment}
            onChange={(what, response) => change(what, { response })}
            onAll={sameKind.length > 0 ? { count: sameKind.length + 1, run: forAll } : null}
          />
          <SweepList
            sweeps={assignment.sweeps}
            isPedal={control.kind === 'expression-pedal'}
            controlId={controlId}
            onChange={(what, sweeps) =>
              change(what, {
                sweeps,
                // The first thing that a control moves: how it takes hold is what its kind does at first.
                ...(assignment.sweeps.length === 0 ? { response: plainResponse(control) } : {}),
              })
            }
          />
          {control.hardware.encoding === 'absolute' && (
            <div className="gestures">
              {list('toe')}
              {list('heel')}
            </div>
          )}
        </>
      ) : (
        <div className="gestures">
          <GestureTimes assignment={assignment} onChange={(what, timing) => change(what, { timing })} />
          {list('press')}
          {list('release')}
          {list('hold')}
          {list('doublePress')}
        </div>
      )}
      <WirePanel assignment={assignment} action={shown} />
    </section>
  );
}

type Shown = {
  board: Board;
  control: Control;
  assignment: Assignment;
};

/** The name of a control with its label, where it is, what it sends, and what can be done with all of it. */
function ControlHead({
  preset,
  board,
  control,
  assignment,
  bank,
  channel,
  isOpen,
  onOpen,
  onLabel,
}: Shown & {
  preset: Preset;
  bank: Bank;
  /** 0–15. */
  channel: number;
  isOpen: boolean;
  onOpen(): void;
  onLabel(text: string): void;
}) {
  const host = useLiveHost();
  const world = useWorld();
  const songIndex = useSongIndex();
  const label = labelOf(world, assignment, songIndex);
  const testPress = () => {
    host.boards.pressSwitch(control.id, true);
    window.setTimeout(() => host.boards.pressSwitch(control.id, false), TEST_PRESS_MS);
  };
  const group = preset.groups.find((g) => g.controlIds.includes(control.id));
  const where = group ? `${group.name}, ${bank.name}` : `bank ${preset.banks.indexOf(bank) + 1}`;
  return (
    <div className="place-head">
      <Cloth
        text={label || control.name}
        className={`fs-cloth ${assignment.colour ? `t-${assignment.colour} coloured` : ''}`}
      />
      <span>
        {control.name}, {where}
      </span>
      <TextField
        hideLabel
        label="Label"
        className="label-field"
        placeholder={`label: ${label || 'none'}`}
        value={assignment.label}
        schema={Label}
        onCommit={onLabel}
      />
      <span className="muted small">
        {messageWords(control.sends)}, channel {channel + 1}
      </span>
      <span className="gap" />
      {board.mode !== 'standalone' && (
        <Link
          className="btn btn-quiet"
          to={`/songs/book?line=control/${control.id}`}
          title="What it does in each song, in place of what its bank says"
        >
          <BookOpen size={16} strokeWidth={1.75} aria-hidden="true" />
          Song by song
        </Link>
      )}
      <CopyTo preset={preset} board={board} control={control} assignment={assignment} bank={bank} />
      <Button variant="quiet" aria-expanded={isOpen} onClick={onOpen}>
        <SlidersHorizontal size={16} strokeWidth={1.75} aria-hidden="true" />
        More
      </Button>
      {isPressed(control.kind) && (
        <Button variant="go" onClick={testPress}>
          <Play size={16} strokeWidth={1.75} aria-hidden="true" />
          Test press
        </Button>
      )}
    </div>
  );
}

/** How it feels and looks, and how all of its kind do. */
function ControlMore({
  preset,
  board,
  control,
  assignment,
  onChange: change,
}: Shown & { preset: Preset; onChange(label: string, part: Partial<Assignment>): void }) {
  return (
    <div className="control-settings">
      <fieldset>
        <legend>{control.name}, here</legend>
        <ColourPick
          label="Colour of the label"
          value={assignment.colour}
          onPick={(colour) => change('colour a label', { colour })}
          isLabelled
        />
        <TextField
          label="Remark"
          value={assignment.remark}
          schema={Remark}
          onCommit={(remark) => change('remark on a control', { remark })}
        />
        <LampFields
          rule={assignment.lamp}
          plain="as every control of its kind"
          ownFunctionId={ownFunction(assignment)}
          onChange={(lamp) => change('set a lamp', { lamp })}
        />
        {isPressed(control.kind) && (
          <OwnTouch
            preset={preset}
            assignment={assignment}
            kind={control.kind}
            onChange={(what, touch) => change(what, { touch })}
          />
        )}
      </fieldset>
      <FeelFields preset={preset} board={board} kind={control.kind} />
    </div>
  );
}

/** What the board cannot do by itself, and what does not go together. */
function ControlWarnings({ board, control, assignment }: Shown) {
  const cannot = (
    isPressed(control.kind)
      ? (['press', 'release', 'hold', 'doublePress'] as const)
      : (['toe', 'heel'] as const)
  ).flatMap((g) => assignment[g].flatMap((a) => boardMarks(board, assignment, g, a).map((m) => m.sentence)));
  const tapsOnly = onlyTaps(control) && [assignment.release, assignment.hold].some((l) => l.length > 0);
  const both = turnsPages(assignment) && actionsOf(assignment).some((a) => a.kind !== 'page');
  return (
    <>
      {[...new Set(cannot)].map((sentence) => (
        <p key={sentence} className="field-error" role="alert">
          {sentence}
        </p>
      ))}
      {tapsOnly && (
        <p className="field-error" role="alert">
          {control.name} tells only that it was pressed, so hold and release cannot be felt by the foot. Say
          how its switch is built under Board.
        </p>
      )}
      {both && (
        <p className="field-error" role="alert">
          A control either turns pages or sends; take one of the two away, or it cannot be saved.
        </p>
      )}
    </>
  );
}

/** That the scene in play says what a control does, and its bank does not count. */
function SceneSays({ control }: { control: Control }) {
  const world = useWorld();
  const said = useLiveOf(({ state }) => sceneWorkOf(world, state, control.id)?.assignment);
  const { songIndex, sceneIndex } = usePlace();
  const song = world.songs[songIndex]?.song;
  const scene = song?.scenes[sceneIndex ?? -1];
  if (!said || !song || !scene) return null;
  return (
    <p className="notice" role="status">
      In {song.name}, {scene.name} it is <b>{labelOf(world, said, songIndex)}</b>, as{' '}
      <Link to={`/songs/${song.id}`}>the song</Link> says; what stands here counts where no scene says
      anything.
    </p>
  );
}

/** The function of a chart that a control is about: the first that it moves. */
function ownFunction(assignment: Assignment): string | null {
  for (const part of [...actionsOf(assignment), ...assignment.sweeps])
    if ('functionId' in part && part.functionId !== null) return part.functionId;
  return null;
}
