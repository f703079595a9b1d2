import type { FullRig } from '@idle-step/core/routing';
import type { Setlist } from '@idle-step/core/show';
import { ChannelNumber, DataByte, PartName, Remark, SetlistSchema, StepGuardMs } from '@idle-step/contract';
import { inputsAtComputer, portWords } from '@idle-step/core/gear';
import { SlidersHorizontal } from 'lucide-react';
import { useState } from 'react';
import { Button } from 'react-bootstrap';
import { NumberField, Pick, TextField, TypedField } from '../../ui/Fields';
import { minutes, parseClock, parseMinutes } from '../../words/times';

const NOBODY = '';

type Props = {
  rig: FullRig;
  set: Setlist;
  onChange(label: string, part: Partial<Setlist>): void;
  onStepGuard(ms: number): void;
};

/** Date, place, start and slot of an evening, and what calls its songs. */
export function EveningFields({ rig, set, onChange, onStepGuard }: Props) {
  const [isOpen, setOpen] = useState(set.calls !== null);
  return (
    <div className="evening" role="group" aria-label="The evening">
      <TextField
        label="Date"
        className="date-field"
        placeholder="2026-11-26"
        value={set.date}
        schema={SetlistSchema.shape.date}
        onCommit={(date) => onChange('change the date', { date })}
      />
      <TextField
        label="Place"
        value={set.place}
        schema={PartName}
        onCommit={(place) => onChange('change the place', { place })}
      />
      <TypedField
        label="Starts at"
        className="narrow"
        numeric
        placeholder="20:00"
        shown={clockText(set.startMin)}
        parse={parseClock}
        onCommit={(startMin) => onChange('change the start', { startMin })}
      />
      <TypedField
        label="Slot, min"
        className="narrow"
        numeric
        placeholder="45:00"
        shown={set.slotS === null ? '' : minutes(set.slotS)}
        parse={(text) => (text.trim() === '' ? { value: null } : parseMinutes(text))}
        onCommit={(slotS) => onChange('change the slot', { slotS })}
      />
      <TextField
        label="Remark"
        className="evening-remark"
        value={set.remark}
        schema={Remark}
        onCommit={(remark) => onChange('change a remark', { remark })}
      />
      <Button variant="quiet" aria-expanded={isOpen} onClick={() => setOpen(!isOpen)}>
        <SlidersHorizontal size={16} strokeWidth={1.75} aria-hidden="true" />
        More
      </Button>
      {isOpen && <StepFields {...{ rig, set, onChange, onStepGuard }} />}
    </div>
  );
}

/** How far steps lie apart, and what calls the songs from outside. */
function StepFields({ rig, set: { calls }, onChange, onStepGuard }: Props) {
  return (
    <>
      <NumberField
        label="Steps at least, ms apart"
        className="steps-apart"
        value={rig.stepGuardMs}
        schema={StepGuardMs}
        onCommit={onStepGuard}
      />
      <Pick
        label="Songs are called by"
        value={calls?.portId ?? NOBODY}
        options={[
          { value: NOBODY, text: 'nothing from outside' },
          ...inputsAtComputer(rig).map(({ device, port }) => ({
            value: port.id,
            text: `programs at ${portWords(device, port)}`,
          })),
        ]}
        onPick={(portId) =>
          onChange('change what calls the songs', {
            calls: portId === NOBODY ? null : { channel: 0, base: 0, ...calls, portId },
          })
        }
      />
      {calls && (
        <>
          <NumberField
            label="Channel"
            className="tiny"
            value={calls.channel}
            shownOffset={1}
            schema={ChannelNumber}
            onCommit={(channel) => onChange('change what calls the songs', { calls: { ...calls, channel } })}
          />
          <NumberField
            label="First program"
            className="narrow"
            value={calls.base}
            schema={DataByte}
            onCommit={(base) => onChange('change what calls the songs', { calls: { ...calls, base } })}
          />
        </>
      )}
    </>
  );
}

const clockText = (min: number | null): string =>
  min === null ? '' : `${String(Math.floor(min / 60)).padStart(2, '0')}:${String(min % 60).padStart(2, '0')}`;
