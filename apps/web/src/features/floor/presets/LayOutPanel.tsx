import {
  layOut,
  layOutNotes,
  withAssignments,
  type Bank,
  type Board,
  type ControlGroup,
  type Preset,
} from '@idle-step/core/floor';
import { useMemo, useState } from 'react';
import { Button, Form } from 'react-bootstrap';
import { useEdit } from '../../../drafts/useDocs';
import { useWorld } from '../../../live/use/useLive';
import { Pick } from '../../../ui/Fields';
import { NoteField } from '../../../actions/NoteField';
import { receivers } from '../../../actions/targets';

type Props = {
  preset: Preset;
  bank: Bank;
  board: Board;
  /** The page of each group that is in sight. */
  pageOf(group: ControlGroup): Bank | undefined;
  onDone(): void;
};

/** The first note where none was typed yet. */
const FIRST_NOTE = 36;

/**
 * Lays a device's main functions, or notes that count up, onto the controls of a bank or of a group: shown first, done as
 * one step.
 */
export function LayOutPanel({ preset, bank, board, pageOf, onDone }: Props) {
  const world = useWorld();
  const edit = useEdit('presets');
  const devices = receivers(world);
  const [deviceId, setDeviceId] = useState(devices[0]?.value ?? '');
  const [what, setWhat] = useState<'functions' | 'notes'>('functions');
  const [firstNote, setFirstNote] = useState(FIRST_NOTE);
  const [onto, setOnto] = useState('bank');
  const group = preset.groups.find((g) => g.id === onto);
  const page = (group && pageOf(group)) ?? bank;
  const grouped = useMemo(() => new Set(preset.groups.flatMap((g) => g.controlIds)), [preset.groups]);
  const free = useMemo(() => new Set(page.assignments.map((a) => a.controlId)), [page.assignments]);
  const [onlyFree, setOnlyFree] = useState(false);
  const [leftOut, setLeftOut] = useState<ReadonlySet<string>>(new Set());
  const device = world.ways.get(deviceId)?.device;
  const isMeant = (id: string) => (group ? group.controlIds.includes(id) : !grouped.has(id));
  const offered = board.controls.filter((c) => isMeant(c.id) && !(onlyFree && free.has(c.id)));
  const controls = offered.filter((c) => !leftOut.has(c.id));
  const newId = () => crypto.randomUUID();
  const { laid, left } = !device
    ? { laid: [], left: [] }
    : what === 'notes'
      ? { laid: layOutNotes(device.id, controls, firstNote, newId), left: [] }
      : layOut(device, controls, newId);
  const says = new Map(laid.map((l) => [l.assignment.controlId, l.says]));
  const overwritten = laid.filter((l) => free.has(l.assignment.controlId)).length;
  const apply = () => {
    const put = new Map(laid.map((l) => [l.assignment.controlId, l.assignment]));
    edit(preset.id, `lay out ${device?.name ?? ''}`, (p) => withAssignments(p, new Map([[page.id, put]])));
    onDone();
  };
  return (
    <section className="layout-panel" aria-label="Lay out by itself">
      <div className="place-head">
        <h2>Lay out</h2>
        <Pick
          hideLabel
          label="Device to lay out"
          value={deviceId}
          options={devices}
          onPick={(id) => setDeviceId(String(id))}
        />
        <Pick
          hideLabel
          label="What is laid out"
          value={what}
          options={[{ value: 'functions', text: 'its functions' }, 'notes']}
          onPick={(next) => setWhat(next)}
        />
        {what === 'notes' && <NoteField label="First note" value={firstNote} onCommit={setFirstNote} />}
        {preset.groups.length > 0 ? (
          <Pick
            hideLabel
            label="Onto"
            value={onto}
            options={[
              { value: 'bank', text: `onto ${bank.name}` },
              ...preset.groups.map((g) => ({
                value: g.id,
                text: `onto ${g.name}: ${pageOf(g)?.name ?? ''}`,
              })),
            ]}
            onPick={(next) => setOnto(next)}
          />
        ) : (
          <span className="muted">onto {bank.name}</span>
        )}
        <Form.Check
          id="only-free"
          label="only onto free controls"
          checked={onlyFree}
          onChange={(e) => setOnlyFree(e.target.checked)}
        />
        <span className="gap" />
        <Button variant="bare" onClick={onDone}>
          Leave it
        </Button>
        <Button variant="go" disabled={laid.length === 0} onClick={apply}>
          Lay out {laid.length} {laid.length === 1 ? 'control' : 'controls'}
        </Button>
      </div>
      <ul className="layout-list">
        {offered.map((c) => (
          <li key={c.id} className={says.has(c.id) ? '' : 'muted'}>
            <Form.Check
              id={`lay-${c.id}`}
              label={c.name}
              checked={!leftOut.has(c.id)}
              onChange={(e) => {
                const next = new Set(leftOut);
                if (e.target.checked) next.delete(c.id);
                else next.add(c.id);
                setLeftOut(next);
              }}
            />
            <span>{says.get(c.id) ?? 'stays as it is'}</span>
            {says.has(c.id) && free.has(c.id) && <span className="small muted">replaces</span>}
          </li>
        ))}
      </ul>
      <p className="small muted">
        {overwritten > 0 && `${overwritten} that do something already are replaced; undo brings it back. `}
        {left.length > 0 && `Without a control: ${left.map((fn) => fn.name).join(', ')}.`}
        {device && laid.length === 0 && `${device.name} has no functions that fit these controls.`}
      </p>
    </section>
  );
}
