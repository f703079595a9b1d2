import { type Assignment, gestureWants, pressWaitMs } from '@idle-step/core/floor';
import { DoubleMs, HoldMs } from '@idle-step/contract';
import { Button } from 'react-bootstrap';
import { NumberField } from '../../../ui/Fields';

type Props = {
  assignment: Assignment;
  onChange(what: string, timing: Assignment['timing']): void;
};

/** When a hold fires and how long a second press is waited for; shown as soon as one of them is used. */
export function GestureTimes({ assignment, onChange }: Props) {
  const { timing, hold, doublePress, press } = assignment;
  if (hold.length === 0 && doublePress.length === 0) return null;
  return (
    <div className="gesture-times">
      {hold.length > 0 && (
        <NumberField
          label="Hold fires after, ms"
          value={timing.holdMs}
          schema={HoldMs}
          onCommit={(holdMs) => onChange('time a hold', { ...timing, holdMs })}
        />
      )}
      {doublePress.length > 0 && (
        <NumberField
          label="Second press within, ms"
          value={timing.doubleMs}
          schema={DoubleMs}
          onCommit={(doubleMs) => onChange('time a double press', { ...timing, doubleMs })}
        />
      )}
      {hold.length > 0 && press.length > 0 && (
        <p className="small" role="status" data-testid="hold-beside-press">
          {timing.holdCancelsPress
            ? 'The press waits until the switch is let go; a hold does only what a hold does. '
            : 'A hold does what the press does too: the press has fired by then. '}
          <Button
            variant="quiet"
            onClick={() =>
              onChange('let a hold replace the press', {
                ...timing,
                holdCancelsPress: !timing.holdCancelsPress,
              })
            }
          >
            {timing.holdCancelsPress ? 'Press at once' : 'Wait for the hold'}
          </Button>
        </p>
      )}
      <Timeline assignment={assignment} />
    </div>
  );
}

type Mark = { readonly atMs: number; readonly text: string };

/** What fires when, counted from the moment the switch goes down. */
function Timeline({ assignment }: { assignment: Assignment }) {
  const wants = gestureWants(assignment);
  const wait = pressWaitMs(wants);
  const marks: Mark[] = [
    ...(assignment.press.length > 0
      ? [
          {
            atMs: wait ?? 0,
            text: wait === null ? 'press, when let go before the hold' : `press at ${wait} ms`,
          },
        ]
      : []),
    ...(wants.hold ? [{ atMs: wants.holdMs, text: `hold at ${wants.holdMs} ms` }] : []),
  ];
  const endMs = 1.25 * Math.max(wants.hold ? wants.holdMs : 0, wants.doublePress ? wants.doubleMs : 0, 100);
  const share = (ms: number) => `${(ms / endMs) * 100}%`;
  return (
    <div
      className="gesture-line"
      role="img"
      aria-label={`Counted from down: ${marks.map((m) => m.text).join(', ')}`}
    >
      {wants.doublePress && (
        <span className="window" style={{ width: share(wants.doubleMs) }}>
          second press
        </span>
      )}
      {marks.map((m) => (
        <span key={m.text} className="mark-at" style={{ left: share(m.atMs) }}>
          {m.text}
        </span>
      ))}
    </div>
  );
}
