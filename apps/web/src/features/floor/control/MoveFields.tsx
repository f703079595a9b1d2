import { type Assignment, TAKEOVERS, type Control } from '@idle-step/core/floor';
import { CurvePick } from '../../../ui/CurvePick';
import { StepSize, TurnSpeed, whole } from '@idle-step/contract';
import { Form } from 'react-bootstrap';
import { NumberField, Pick } from '../../../ui/Fields';
import { TAKEOVER_WORDS } from '../table/FillPanel';

type Response = Assignment['response'];

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
  return (
    <div className="move-fields">
      {isRelative ? (
        <>
          <NumberField
            label="Step when slow"
            className="narrow"
            value={response.slowStep}
            schema={StepSize}
            onCommit={(slowStep) => set('set a step', { slowStep })}
          />
          <NumberField
            label="Step when fast"
            className="narrow"
            value={response.fastStep}
            schema={StepSize}
            onCommit={(fastStep) => set('set a step', { fastStep })}
          />
          <NumberField
            label="Fast from, detents/s"
            className="narrow"
            value={response.fastPerS}
            schema={TurnSpeed}
            onCommit={(fastPerS) => set('say what is fast', { fastPerS })}
          />
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
      {hasEnds && (
        <>
          <NumberField
            label="Toe fires at, %"
            className="narrow"
            value={response.toeAt}
            schema={whole('Toe', 51, 100, ' %')}
            onCommit={(toeAt) => set('place the toe action', { toeAt })}
          />
          <NumberField
            label="Heel fires at, %"
            className="narrow"
            value={response.heelAt}
            schema={whole('Heel', 0, 49, ' %')}
            onCommit={(heelAt) => set('place the heel action', { heelAt })}
          />
          <NumberField
            label="Again after leaving by, %"
            className="narrow"
            value={response.hysteresis}
            schema={whole('Hysteresis', 1, 40, ' %')}
            onCommit={(hysteresis) => set('set a hysteresis', { hysteresis })}
          />
        </>
      )}
      {onAll && (
        <button type="button" className="btn btn-bare" onClick={onAll.run}>
          The same for all {onAll.count} of its kind here
        </button>
      )}
    </div>
  );
}
