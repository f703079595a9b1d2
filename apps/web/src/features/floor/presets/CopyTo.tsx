import {
  type Preset,
  type Bank,
  copiedTo,
  isPressed,
  withAssignments,
  type Assignment,
  type Board,
  type Control,
} from '@idle-step/core/floor';
import { CopyPlus } from 'lucide-react';
import { useState } from 'react';
import { Button, Dropdown, Form } from 'react-bootstrap';
import { useEdit } from '../../../drafts/useDocs';

/** Copies what a control does to other controls and other banks, as one step. */
export function CopyTo({
  preset,
  board,
  bank,
  control,
  assignment,
}: {
  preset: Preset;
  board: Board;
  bank: Bank;
  control: Control;
  assignment: Assignment;
}) {
  const edit = useEdit('presets');
  const [controls, setControls] = useState<ReadonlySet<string>>(new Set([control.id]));
  const [banks, setBanks] = useState<ReadonlySet<string>>(new Set([bank.id]));
  const grouped = new Set(preset.groups.flatMap((g) => g.controlIds));
  const fitting = board.controls.filter(
    (c) => isPressed(c.kind) === isPressed(control.kind) && (!grouped.has(c.id) || c.id === control.id),
  );
  const targets = [...banks].flatMap((pageId) =>
    [...controls].flatMap((controlId) =>
      pageId === bank.id && controlId === control.id ? [] : [{ pageId, controlId }],
    ),
  );
  const apply = () => {
    const put = new Map<string, Map<string, Assignment>>();
    for (const { pageId, controlId } of targets) {
      const page = put.get(pageId) ?? new Map<string, Assignment>();
      put.set(
        pageId,
        page.set(
          controlId,
          copiedTo(assignment, controlId, () => crypto.randomUUID()),
        ),
      );
    }
    edit(preset.id, `copy ${control.name}`, (p) => withAssignments(p, put));
  };
  const toggle = (set: ReadonlySet<string>, id: string, on: boolean) =>
    on ? new Set([...set, id]) : new Set([...set].filter((x) => x !== id));
  return (
    <Dropdown autoClose="outside">
      <Dropdown.Toggle variant="quiet" className="no-caret">
        <CopyPlus size={16} strokeWidth={1.75} aria-hidden="true" />
        Copy to
      </Dropdown.Toggle>
      <Dropdown.Menu className="copy-menu">
        <fieldset>
          <legend>Controls</legend>
          {fitting.map((c) => (
            <Form.Check
              key={c.id}
              id={`copy-${c.id}`}
              label={c.name}
              checked={controls.has(c.id)}
              onChange={(e) => setControls(toggle(controls, c.id, e.target.checked))}
            />
          ))}
        </fieldset>
        <fieldset>
          <legend>In the banks</legend>
          {preset.banks.map((b, i) => (
            <Form.Check
              key={b.id}
              id={`copy-${b.id}`}
              label={`${i + 1} ${b.name}`}
              checked={banks.has(b.id)}
              onChange={(e) => setBanks(toggle(banks, b.id, e.target.checked))}
            />
          ))}
        </fieldset>
        <Dropdown.Item
          as={Button}
          variant="go"
          className="btn btn-go"
          disabled={targets.length === 0}
          onClick={apply}
        >
          Copy to {targets.length} {targets.length === 1 ? 'place' : 'places'}
        </Dropdown.Item>
      </Dropdown.Menu>
    </Dropdown>
  );
}
