import type { z } from 'zod';
import { type Assignment, TAKEOVERS, type Control } from '@idle-step/core/floor';
import { CurvePick } from '../../../ui/CurvePick';
import { StepSize, TurnSpeed, whole } from '@idle-step/contract';
import { Form } from 'react-bootstrap';
import { NumberField, Pick } from '../../../ui/Fields';
import { TAKEOVER_WORDS } from '../table/FillPanel';

type Response = Assignment['response'];

/** A number of how a control takes hold: its field, and what changing it is called in undo. */
type ResponseNumber = {
  readonly field: 'slowStep' | 'fastStep' | 'fastPerS' | 'toeAt' | 'heelAt' | 'hysteresis';
  readonly label: string;
  readonly schema: z.ZodType<number>;
  readonly what: string;
};

const TURN_NUMBERS: readonly ResponseNumber[] = [
  { field: 'slowStep', label: 'Step when slow', schema: StepSize, what: 'set a step' },
  { field: 'fastStep', label: 'Step when fast', schema: StepSize, what: 'set a step' },
  { field: 'fastPerS', label: 'Fast from, detents/s', schema: TurnSpeed, what: 'say what is fast' },
];

const END_NUMBERS: readonly ResponseNumber[] = [
  {
    field: 'toeAt',
    label: 'Toe fires at, %',
    schema: whole('Toe', 51, 100, ' %'),
    what: 'place the toe action',
  },
  {
    field: 'heelAt',
    label: 'Heel fires at, %',
    schema: whole('Heel', 0, 49, ' %'),
    what: 'place the heel action',
  },
  {
    field: 'hysteresis',
    label: 'Again after leaving by, %',
    schema: whole('Hysteresis', 1, 40, ' %'),
    what: 'set a hysteresis',
  },
];

/** How a pedal, knob or encoder takes hold of what it moves, and when its ends fire. */
export function MoveFields({
  control,
  assignment,
  onChange,
  onAll,
}: {
  control: Control;
  assignment: Assignment;
  onChange(label: string, response: Response): void;
  /** The same for every control of its kind in this bank; `null` when it is the only one. */
  onAll: { count: number; run(): void } | null;
}) {
  const { response } = assignment;
  const set = (label: string, part: Partial<Response>) => onChange(label, { ...response, ...part });
  const isRelative = control.hardware.encoding !== 'absolute';
  const hasEnds = assignment.toe.length > 0 || assignment.heel.length > 0;
  const number = ({ field, label, schema, what }: ResponseNumber) => (
    <NumberField
      key={field}
      label={label}
      className="narrow"
      value={response[field]}
      schema={schema}
      onCommit={(value) => set(what, { [field]: value })}
    />
  );
  return (
    <div className="move-fields">
      {isRelative ? (
        <>
          {TURN_NUMBERS.map(number)}
          <CurvePick
            label="Step growth"
            value={response.growth}
            onPick={(growth) => set('say how a step grows', { growth })}
          />
          <Form.Check
            id="turn-reverse"
            label="the other way round"
            checked={response.reverse}
            onChange={(e) => set('turn an encoder round', { reverse: e.target.checked })}
          />
          <Form.Check
            id="turn-wrap"
            label="begins again beyond its ends"
            checked={response.wrap}
            onChange={(e) => set('let an encoder wrap', { wrap: e.target.checked })}
          />
          <Pick
            label="While its value is not known"
            value={response.takeover === 'jump' ? 'jump' : 'pickup'}
            options={[
              { value: 'pickup', text: 'send nothing, and say so' },
              { value: 'jump', text: 'begin where the range begins' },
            ]}
            onPick={(takeover) => set('say how it takes hold', { takeover })}
          />
        </>
      ) : (
        <Pick
          label="After a page, preset or scene change"
          value={response.takeover}
          options={TAKEOVERS.map((value) => ({ value, text: TAKEOVER_WORDS[value] }))}
          onPick={(takeover) => set('say how it takes hold', { takeover })}
        />
      )}
      {hasEnds && END_NUMBERS.map(number)}
      {onAll && (
        <button type="button" className="btn btn-bare" onClick={onAll.run}>
          The same for all {onAll.count} of its kind here
        </button>
      )}
    </div>
  );
}
