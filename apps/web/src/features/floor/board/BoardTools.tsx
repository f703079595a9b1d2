import { whole } from '@idle-step/contract';
import {
  ALIGNMENTS,
  aligned,
  CONTROL_KINDS,
  distributed,
  type Alignment,
  type Board,
  type Control,
  type ControlKind,
  type Preset,
} from '@idle-step/core/floor';
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
import { useState } from 'react';
import { Button } from 'react-bootstrap';
import { useNavigate } from 'react-router-dom';
import { useEdit } from '../../../drafts/useDocs';
import { withGroup } from '../../../edits/presetEdits';
import { NumberField, Pick } from '../../../ui/Fields';
import { IconButton } from '../../../ui/IconButton';
import { KIND_WORDS } from '../control/ControlSettings';

const ALIGN_SIGNS: Record<Alignment, { icon: LucideIcon; label: string }> = {
  left: { icon: AlignStartVertical, label: 'Line up at the left' },
  centre: { icon: AlignCenterVertical, label: 'Line up by their middles, one above the other' },
  right: { icon: AlignEndVertical, label: 'Line up at the right' },
  top: { icon: AlignStartHorizontal, label: 'Line up at the far edge' },
  middle: { icon: AlignCenterHorizontal, label: 'Line up by their middles, side by side' },
  bottom: { icon: AlignEndHorizontal, label: 'Line up at the near edge' },
};

/** What can be added to a board, and done with the controls in hand. */
export function BoardTools({
  board,
  preset,
  inHand,
  onAdd,
  onPlace,
  onLearn,
  onRemove,
}: {
  board: Board;
  /** The preset in force, `null` when there is none. */
  preset: Preset | null;
  inHand: readonly Control[];
  onAdd(kind: ControlKind, count: number): void;
  onPlace(label: string, controls: Board['controls']): void;
  onLearn(): void;
  onRemove(): void;
}) {
  const editPreset = useEdit('presets');
  const navigate = useNavigate();
  const [adding, setAdding] = useState<{ kind: ControlKind; count: number }>({
    kind: 'footswitch',
    count: 1,
  });
  const ids = new Set(inHand.map((c) => c.id));
  const several = inHand.length > 1;
  const free = inHand.filter((c) => !preset?.groups.some((g) => g.controlIds.includes(c.id)));
  const group = () => {
    if (!preset) return;
    const controlIds = free.map((c) => c.id);
    editPreset(preset.id, 'make a group', (p) => withGroup(p, board, crypto.randomUUID(), controlIds));
    void navigate(`/floor/${board.id}`);
  };
  return (
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
      <Button variant="quiet" onClick={() => onAdd(adding.kind, adding.count)}>
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
          onClick={() => onPlace('line up controls', aligned(board.controls, ids, by))}
        />
      ))}
      {(['across', 'down'] as const).map((along) => (
        <IconButton
          key={along}
          line
          icon={along === 'across' ? AlignHorizontalDistributeCenter : AlignVerticalDistributeCenter}
          label={`Same gaps ${along}`}
          disabled={inHand.length < 3}
          onClick={() => onPlace('spread controls', distributed(board.controls, ids, along))}
        />
      ))}
      <span className="gap" />
      <Button variant="quiet" disabled={inHand.length === 0 || board.isOnScreen} onClick={onLearn}>
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
        onClick={onRemove}
      />
    </div>
  );
}
