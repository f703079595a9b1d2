import type { FullRig } from '@idle-step/core/routing';
import {
  type Board,
  type Preset,
  ALIGNMENTS,
  aligned,
  CONTROL_KINDS,
  distributed,
  GRID_MM,
  type Alignment,
  type ControlKind,
} from '@idle-step/core/floor';
import { RigSchema, whole } from '@idle-step/contract';
import {
  AlignCenterHorizontal,
  AlignCenterVertical,
  AlignEndHorizontal,
  AlignEndVertical,
  AlignHorizontalDistributeCenter,
  AlignStartHorizontal,
  AlignStartVertical,
  AlignVerticalDistributeCenter,
  BookOpen,
  Ear,
  Plus,
  Trash2,
  type LucideIcon,
} from 'lucide-react';
import { useMemo, useState } from 'react';
import { Button } from 'react-bootstrap';
import { useNavigate } from 'react-router-dom';
import { useEdit } from '../../../drafts/useDocs';
import { IconButton } from '../../../ui/IconButton';
import { useBareClick } from '../../../ui/useBareClick';
import { NumberField, Pick } from '../../../ui/Fields';
import { useRemoval } from '../../../gear/useRemoval';
import { withGroup } from '../../../edits/presetEdits';
import { withBoard, withNewControls, withoutControls, withoutLearned } from '../../../edits/boardEdits';
import { BoardPlan } from './BoardPlan';
import { BoardSettings } from './BoardSettings';
import { ControlSettings, KIND_WORDS } from '../control/ControlSettings';
import { LearnPanel } from '../../../boards/LearnPanel';
import { useLearn } from '../../../boards/useLearn';

const ALIGN_SIGNS: Record<Alignment, { icon: LucideIcon; label: string }> = {
  left: { icon: AlignStartVertical, label: 'Line up at the left' },
  centre: { icon: AlignCenterVertical, label: 'Line up by their middles, one above the other' },
  right: { icon: AlignEndVertical, label: 'Line up at the right' },
  top: { icon: AlignStartHorizontal, label: 'Line up at the far edge' },
  middle: { icon: AlignCenterHorizontal, label: 'Line up by their middles, side by side' },
  bottom: { icon: AlignEndHorizontal, label: 'Line up at the near edge' },
};

/** The board as it is built: its controls laid out in millimetres, and what their hardware sends. */
export function BoardRoom({
  rig,
  board,
  preset,
}: {
  rig: FullRig;
  board: Board;
  /** The preset in force, `null` when there is none. */
  preset: Preset | null;
}) {
  const edit = useEdit('rigs');
  const editPreset = useEdit('presets');
  const navigate = useNavigate();
  const removal = useRemoval(rig);
  const learn = useLearn(rig, board.id);
  const [selected, setSelected] = useState<ReadonlySet<string>>(new Set());
  const [adding, setAdding] = useState<{ kind: ControlKind; count: number }>({
    kind: 'footswitch',
    count: 1,
  });
  const [sentence, setSentence] = useState<string | null>(null);
  const ids = useMemo(
    () => new Set(board.controls.flatMap((c) => (selected.has(c.id) ? c.id : []))),
    [board.controls, selected],
  );
  const inHand = board.controls.filter((c) => ids.has(c.id));
  /** Edits that the contract would refuse are said here and not made. */
  const change = (label: string, next: Board): boolean => {
    const after = withBoard(rig, board.id, () => next);
    const result = RigSchema.safeParse(after);
    setSentence(result.success ? null : (result.error.issues[0]?.message ?? null));
    if (result.success) edit(rig.id, label, () => after);
    return result.success;
  };
  const place = (label: string, controls: Board['controls']) => change(label, { ...board, controls });
  const add = () => {
    const { board: next, ids: made, missing } = withNewControls(board, adding.kind, adding.count);
    if (change(`add ${adding.count} ${KIND_WORDS[adding.kind]}`, next)) setSelected(new Set(made));
    if (missing > 0) setSentence(`${missing} could not be added: every number is in use on this board.`);
  };
  const remove = () =>
    removal.ask(
      inHand.length === 1 ? inHand[0]!.name : `${inHand.length} controls`,
      (r) => withoutControls(r, board.id, ids),
      null,
      () => setSelected(new Set()),
    );
  const several = inHand.length > 1;
  const free = inHand.filter((c) => !preset?.groups.some((g) => g.controlIds.includes(c.id)));
  const group = () => {
    if (!preset) return;
    const controlIds = free.map((c) => c.id);
    editPreset(preset.id, 'make a group', (p) => withGroup(p, board, crypto.randomUUID(), controlIds));
    void navigate(`/floor/${board.id}`);
  };
  useBareClick(() => setSelected(new Set()));
  return (
    <section className="board-room-edit" aria-label="The board as it is built">
      <div className="place-head board-tools">
        <Pick
          hideLabel
          label="Kind of the new control"
          value={adding.kind}
          options={CONTROL_KINDS.map((kind) => ({ value: kind, text: KIND_WORDS[kind] }))}
          onPick={(kind) => setAdding({ ...adding, kind: kind })}
        />
        <NumberField
          hideLabel
          label="How many"
          className="count-field"
          value={adding.count}
          schema={whole('Number of controls', 1, 64)}
          onCommit={(count) => setAdding({ ...adding, count })}
        />
        <Button variant="quiet" onClick={add}>
          <Plus size={16} strokeWidth={1.75} aria-hidden="true" />
          Add
        </Button>
        <span className="tool-gap" />
        {ALIGNMENTS.map((by) => (
          <IconButton
            key={by}
            line
            icon={ALIGN_SIGNS[by].icon}
            label={ALIGN_SIGNS[by].label}
            disabled={!several}
            onClick={() => place('line up controls', aligned(board.controls, ids, by))}
          />
        ))}
        {(['across', 'down'] as const).map((along) => (
          <IconButton
            key={along}
            line
            icon={along === 'across' ? AlignHorizontalDistributeCenter : AlignVerticalDistributeCenter}
            label={`Same gaps ${along}`}
            disabled={inHand.length < 3}
            onClick={() => place('spread controls', distributed(board.controls, ids, along))}
          />
        ))}
        <span className="gap" />
        <Button
          variant="quiet"
          disabled={inHand.length === 0 || board.isOnScreen}
          onClick={() => learn.start(inHand.map((c) => c.id))}
        >
          <Ear size={16} strokeWidth={1.75} aria-hidden="true" />
          {several ? `Learn ${inHand.length} in a row` : 'Learn what it sends'}
        </Button>
        {preset && inHand.length > 0 && (
          <Button
            variant="quiet"
            disabled={free.length === 0}
            title={
              free.length < inHand.length
                ? 'Those in hand that have pages already stay where they are'
                : 'Makes a group of the controls in hand, with pages that switches turn'
            }
            onClick={group}
          >
            <BookOpen size={16} strokeWidth={1.75} aria-hidden="true" />
            Pages
          </Button>
        )}
        <IconButton
          line
          icon={Trash2}
          label="Take the controls in hand away"
          disabled={inHand.length === 0}
          onClick={remove}
        />
      </div>
      {sentence && (
        <p className="field-error" role="alert">
          {sentence}
        </p>
      )}
      <LearnPanel learn={learn} />
      <BoardPlan
        board={board}
        selected={ids}
        learningId={learn.learning?.control.id ?? null}
        onSelect={setSelected}
        onPlace={(controls) => place('move controls', controls)}
        onRemove={remove}
      />
      <p className="small muted">
        {inHand.length === 0
          ? `Click a control to take it in hand, with Shift several; drag or use the arrows to move it by ${GRID_MM} mm, with Shift by 10.`
          : `${inHand.length} in hand${several ? ': what is set below is set for all of them' : ''}.`}
      </p>
      {inHand.length > 0 && (
        <ControlSettings
          rig={rig}
          board={board}
          controls={inHand}
          onChange={(label, part) =>
            place(
              label,
              board.controls.map((c) => (ids.has(c.id) ? part(c) : c)),
            )
          }
          onSameKind={(kind) =>
            setSelected(new Set(board.controls.filter((c) => c.kind === kind).map((c) => c.id)))
          }
          onClearLearned={() => change('clear what was learned', withoutLearned(board, ids))}
        />
      )}
      <BoardSettings
        rig={rig}
        board={board}
        preset={preset}
        onChange={(label, part) => change(label, { ...board, ...part })}
        onClearLearned={() =>
          change(
            'clear all that was learned',
            withoutLearned(board, new Set(board.controls.map((c) => c.id))),
          )
        }
        onClearAssignments={() =>
          preset &&
          editPreset(preset.id, 'clear all assignments', (p) => ({
            ...p,
            banks: p.banks.map((b) => ({ ...b, assignments: [] })),
            groups: p.groups.map((g) => ({ ...g, pages: g.pages.map((b) => ({ ...b, assignments: [] })) })),
          }))
        }
        onRemove={() =>
          removal.ask(rig.devices.find((d) => d.id === board.deviceId)?.name ?? 'The board', (r) => ({
            ...r,
            boards: r.boards.filter((b) => b.id !== board.id),
          }))
        }
      />
      {removal.dialog}
    </section>
  );
}
