import type { FullRig } from '@idle-step/core/routing';
import { type Board, type Preset, ACTION_LISTS, pagesOf, SENT_KINDS } from '@idle-step/core/floor';
import { SizeMm, whole } from '@idle-step/contract';
import { Button, Form } from 'react-bootstrap';
import { NumberField, Pick } from '../../../ui/Fields';
import { counted } from '../../../words/counted';
import { SENT_WORDS } from '@idle-step/core/memory';
import { LIST_WORDS } from '../presets/listWords';

type Props = {
  rig: FullRig;
  board: Board;
  preset: Preset | null;
  onChange(label: string, part: Partial<Board>): void;
  onClearLearned(): void;
  onClearAssignments(): void;
  onRemove(): void;
};

/** The board as a whole: its size, who plays it, and what its own program can do. */
export function BoardSettings({
  rig,
  board,
  preset,
  onChange,
  onClearLearned,
  onClearAssignments,
  onRemove,
}: Props) {
  const device = rig.devices.find((d) => d.id === board.deviceId);
  const told = preset ? pagesOf(preset).reduce((n, b) => n + b.assignments.length, 0) : 0;
  return (
    <div className="control-settings" role="group" aria-label={`The board of ${device?.name ?? ''}`}>
      <fieldset>
        <legend>The board</legend>
        <NumberField
          label="Wide, mm"
          className="narrow"
          value={board.widthMm}
          schema={SizeMm}
          onCommit={(widthMm) => onChange('size a board', { widthMm })}
        />
        <NumberField
          label="Deep, mm"
          className="narrow"
          value={board.heightMm}
          schema={SizeMm}
          onCommit={(heightMm) => onChange('size a board', { heightMm })}
        />
        <Form.Check
          id="board-on-screen"
          label="is on a screen only, without hardware"
          checked={board.isOnScreen}
          onChange={(e) => onChange('say whether a board has hardware', { isOnScreen: e.target.checked })}
        />
      </fieldset>
      <fieldset>
        <legend>Who plays it</legend>
        <Pick
          label="While playing"
          className="wide-pick"
          value={board.mode}
          options={[
            { value: 'hosted', text: 'this application (hosted)' },
            { value: 'standalone', text: 'the board by itself (standalone)' },
          ]}
          onPick={(mode) => onChange('say who plays a board', { mode })}
        />
        {board.mode === 'hosted' && (
          <Pick
            label="Bank when a song begins"
            value={board.bankFollows}
            options={[
              { value: 'nothing', text: 'stays' },
              { value: 'song-name', text: 'the one with the name of the song' },
              { value: 'song-number', text: 'the one with the number of the song' },
            ]}
            onPick={(bankFollows) => onChange('say which bank a song brings', { bankFollows })}
          />
        )}
        {board.mode === 'standalone' && <OwnProgram can={board.can} onChange={onChange} />}
      </fieldset>
      <fieldset>
        <legend>Clear and remove</legend>
        <Button variant="quiet" onClick={onClearLearned}>
          Clear all that was learned
        </Button>
        <p className="small muted">
          Numbers, channels and measured hardware of all {counted(board.controls.length, 'control')}; what
          they do stays.
        </p>
        <Button variant="quiet" disabled={told === 0} onClick={onClearAssignments}>
          Clear all assignments
        </Button>
        <p className="small muted">
          {preset
            ? `What ${counted(told, 'control does', 'controls do')} in the banks and pages of ${preset.name}; what they send stays.`
            : 'No preset is in force, so nothing is assigned.'}
        </p>
        <Button variant="quiet" onClick={onRemove}>
          Remove this board
        </Button>
        <p className="small muted">The device {device?.name} stays in the rig.</p>
      </fieldset>
    </div>
  );
}

/** What the board's own program can do. */
function OwnProgram({ can, onChange }: { can: Board['can']; onChange: Props['onChange'] }) {
  const toggled = <T,>(list: readonly T[], item: T, on: boolean): T[] =>
    on ? [...list.filter((x) => x !== item), item] : list.filter((x) => x !== item);
  return (
    <>
      <Most
        label="Banks at most"
        value={can.banks}
        first={8}
        high={128}
        onPick={(banks) => onChange('say what a board can do', { can: { ...can, banks } })}
      />
      <Most
        label="Actions for a gesture at most"
        value={can.actions}
        first={4}
        high={64}
        onPick={(actions) => onChange('say what a board can do', { can: { ...can, actions } })}
      />
      <div className="ticks" role="group" aria-label="Gestures that it can tell">
        <span className="small muted">It can tell</span>
        {ACTION_LISTS.map((g) => (
          <Form.Check
            key={g}
            id={`can-${g}`}
            label={LIST_WORDS[g]}
            checked={can.gestures.includes(g)}
            onChange={(e) =>
              onChange('say what a board can do', {
                can: { ...can, gestures: toggled(can.gestures, g, e.target.checked) },
              })
            }
          />
        ))}
      </div>
      <div className="ticks" role="group" aria-label="Messages that it can send">
        <span className="small muted">It can send</span>
        {SENT_KINDS.map((k) => (
          <Form.Check
            key={k}
            id={`sends-${k}`}
            label={SENT_WORDS[k]}
            checked={can.messages.includes(k)}
            onChange={(e) =>
              onChange('say what a board can do', {
                can: { ...can, messages: toggled(can.messages, k, e.target.checked) },
              })
            }
          />
        ))}
      </div>
    </>
  );
}

function Most({
  label,
  value,
  first,
  high,
  onPick,
}: {
  label: string;
  value: number | null;
  first: number;
  high: number;
  onPick(value: number | null): void;
}) {
  return (
    <div className="most">
      <Form.Check
        id={`most-${label}`}
        label={label}
        checked={value !== null}
        onChange={(e) => onPick(e.target.checked ? first : null)}
      />
      {value !== null && (
        <NumberField
          hideLabel
          label={`${label}: how many`}
          className="narrow"
          value={value}
          schema={whole(label, 1, high)}
          onCommit={onPick}
        />
      )}
    </div>
  );
}
