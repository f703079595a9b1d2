import { Remark, SetlistSchema, PartName, type SetlistDoc } from '@idle-step/contract';
import { TextField, TypedField } from '../../ui/Fields';
import { minutes, parseClock, parseMinutes } from '../../words/times';

/** Date, place, start and slot of an evening. */
export function EveningFields({
  set,
  onChange,
}: {
  set: SetlistDoc;
  onChange(label: string, part: Partial<SetlistDoc>): void;
}) {
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
    </div>
  );
}

const clockText = (min: number | null): string =>
  min === null ? '' : `${String(Math.floor(min / 60)).padStart(2, '0')}:${String(min % 60).padStart(2, '0')}`;
