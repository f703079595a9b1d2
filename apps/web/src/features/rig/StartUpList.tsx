import type { Device } from '@idle-step/core/gear';
import type { FullRig } from '@idle-step/core/routing';
import { Remark } from '@idle-step/contract';
import { ListChecks, Plus, RotateCcw, X } from 'lucide-react';
import { useState } from 'react';
import { Button, Form } from 'react-bootstrap';
import { useEdit } from '../../drafts/useDocs';
import { TextField } from '../../ui/Fields';
import { IconButton } from '../../ui/IconButton';
import { moved } from '../../edits/moved';
import { SortableList } from '../../ui/SortableList';
import { TapeMark } from '../../ui/TapeMark';
import { withDevice } from '../../edits/rigEdits';

/** The ordered steps that bring one device into the right mode, written and put in order. */
export function StartUpSteps({
  device,
  change,
}: {
  device: Device;
  change(label: string, part: Partial<Device>): void;
}) {
  const [text, setText] = useState('');
  const set = (label: string, startUp: Device['startUp']) => change(label, { startUp });
  const add = () => {
    if (text.trim() === '') return;
    set('add a start-up step', [
      ...device.startUp,
      { id: crypto.randomUUID(), text: text.trim(), done: false },
    ]);
    setText('');
  };
  return (
    <section aria-label={`Start-up of ${device.name}`}>
      {device.startUp.length === 0 && (
        <p className="muted py-2">
          What has to be done, in order, until {device.name} is ready: keys held while switching on, wireless
          first and then the app, a firmware to look out for.
        </p>
      )}
      <SortableList
        items={device.startUp}
        label={`Start-up steps of ${device.name}`}
        nameOf={(s) => s.text}
        onMove={(from, to) => set('move a start-up step', moved(device.startUp, from, to))}
        className="start-up"
        render={(step, index, handle) => (
          <span className="start-up-step">
            {handle}
            <span className="num muted">{index + 1}</span>
            <TextField
              hideLabel
              label={`Step ${index + 1}`}
              value={step.text}
              schema={Remark}
              onCommit={(next) =>
                set(
                  'change a start-up step',
                  device.startUp.map((s) => (s.id === step.id ? { ...s, text: next } : s)),
                )
              }
            />
            <IconButton
              icon={X}
              label={`Remove step ${index + 1}`}
              onClick={() =>
                set(
                  'remove a start-up step',
                  device.startUp.filter((s) => s.id !== step.id),
                )
              }
            />
          </span>
        )}
      />
      <Form
        className="start-up-add"
        onSubmit={(e) => {
          e.preventDefault();
          add();
        }}
      >
        <Form.Control
          aria-label="New step"
          placeholder="hold the left key while switching it on"
          value={text}
          maxLength={400}
          onChange={(e) => setText(e.target.value)}
        />
        <Button variant="quiet" type="submit" disabled={text.trim() === ''}>
          <Plus size={16} strokeWidth={1.75} aria-hidden="true" />
          Step
        </Button>
      </Form>
    </section>
  );
}

/** Every step of the rig to be ticked off before an evening, and all ticks taken away with one press. */
export function StartUpCheck({ rig, onClose }: { rig: FullRig; onClose(): void }) {
  const edit = useEdit('rigs');
  const devices = rig.devices.filter((d) => d.startUp.length > 0 && !d.away);
  const steps = devices.flatMap((d) => d.startUp);
  const done = steps.filter((s) => s.done).length;
  const tick = (deviceId: string, stepId: string, isDone: boolean) =>
    edit(rig.id, isDone ? 'tick a step' : 'take back a tick', (r) =>
      withDevice(r, deviceId, (d) => ({
        ...d,
        startUp: d.startUp.map((s) => (s.id === stepId ? { ...s, done: isDone } : s)),
      })),
    );
  const reset = () =>
    edit(rig.id, 'take all ticks away', (r) => ({
      ...r,
      devices: r.devices.map((d) => ({ ...d, startUp: d.startUp.map((s) => ({ ...s, done: false })) })),
    }));
  return (
    <section className="side-sheet" aria-label="Start-up list">
      <div className="place-head">
        <ListChecks size={18} aria-hidden="true" />
        <h2>Start-up list</h2>
        <span className="muted">
          {done} of {steps.length} done
        </span>
        <span className="gap" />
        <Button variant="quiet" disabled={done === 0} onClick={reset}>
          <RotateCcw size={16} strokeWidth={1.75} aria-hidden="true" />
          Start over
        </Button>
        <IconButton icon={X} label="Close the start-up list" onClick={onClose} />
      </div>
      {devices.length === 0 ? (
        <p className="muted">
          No steps yet. Write them under “Start-up” of each device; here they are ticked off before an
          evening.
        </p>
      ) : (
        <div className="start-up-devices">
          {devices.map((device) => (
            <fieldset key={device.id}>
              <legend>
                <TapeMark mark={device.mark} size={14} />
                {device.name}
              </legend>
              {device.startUp.map((step) => (
                <Form.Check
                  key={step.id}
                  id={`step-${step.id}`}
                  label={step.text}
                  checked={step.done}
                  onChange={(e) => tick(device.id, step.id, e.target.checked)}
                />
              ))}
            </fieldset>
          ))}
        </div>
      )}
    </section>
  );
}
