import type { FullRig } from '@idle-step/core/routing';
import { type Board, type Preset, GRID_MM, type ControlKind } from '@idle-step/core/floor';
import { RigSchema } from '@idle-step/contract';
import { useMemo, useState } from 'react';
import { useEdit } from '../../../drafts/useDocs';
import { useBareClick } from '../../../ui/hooks/useBareClick';
import { useRemoval } from '../../../gear/useRemoval';
import { withBoard, withNewControls, withoutControls, withoutLearned } from '../../../edits/boardEdits';
import { BoardPlan } from './BoardPlan';
import { BoardTools } from './BoardTools';
import { BoardSettings } from './BoardSettings';
import { ControlSettings, KIND_WORDS } from '../control/ControlSettings';
import { LearnPanel } from '../../../boards/LearnPanel';
import { useLearn } from '../../../boards/useLearn';
import { nth } from '@idle-step/core/sure';
import { Trouble } from '../../../ui/Trouble';

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
  const removal = useRemoval(rig);
  const learn = useLearn(rig, board.id);
  const [selected, setSelected] = useState<ReadonlySet<string>>(new Set());
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
  const add = (kind: ControlKind, count: number) => {
    const { board: next, ids: made, missing } = withNewControls(board, kind, count);
    if (change(`add ${count} ${KIND_WORDS[kind]}`, next)) setSelected(new Set(made));
    if (missing > 0) setSentence(`${missing} could not be added: every number is in use on this board.`);
  };
  const remove = () =>
    removal.ask(
      inHand.length === 1 ? nth(inHand, 0).name : `${inHand.length} controls`,
      (r) => withoutControls(r, board.id, ids),
      null,
      () => setSelected(new Set()),
    );
  useBareClick(() => setSelected(new Set()));
  return (
    <section className="board-room-edit" aria-label="The board as it is built">
      <BoardTools
        board={board}
        preset={preset}
        inHand={inHand}
        onAdd={add}
        onPlace={place}
        onLearn={() => learn.start(inHand.map((c) => c.id))}
        onRemove={remove}
      />
      <Trouble>{sentence}</Trouble>
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
          : `${inHand.length} in hand${inHand.length > 1 ? ': what is set below is set for all of them' : ''}.`}
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
