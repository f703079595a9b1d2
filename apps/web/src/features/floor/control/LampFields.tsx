import { type Assignment, colourForEach, isTurnedRound, LIGHTS, turnedRound } from '@idle-step/core/floor';
import { whole } from '@idle-step/contract';
import { TAPE_COLOURS } from '@idle-step/core/gear';
import { Palette, Plus, X } from 'lucide-react';
import { Button } from 'react-bootstrap';
import { useWorld } from '../../../live/use/useLive';
import { NumberField, Pick } from '../../../ui/Fields';
import { IconButton } from '../../../ui/IconButton';
import { FunctionPick, ValuePick } from '../../../gear/FunctionPick';
import { got } from '@idle-step/core/sure';

type Rule = Assignment['lamp'];
type Stop = Extract<NonNullable<Rule>, { kind: 'function' }>['stops'][number];

const LIGHT_WORDS: Record<(typeof LIGHTS)[number], string> = {
  off: 'off',
  steady: 'steady',
  blink: 'blinking',
};

/** What a lamp follows: the work of its control, the switch itself, or a function with what each value shows. */
export function LampFields({
  rule,
  plain,
  ownFunctionId = null,
  onChange,
}: {
  rule: Rule;
  /** What the control itself moves: messages coming back begin with it. */
  ownFunctionId?: string | null;
  /** What no rule of its own means here. */
  plain: string;
  onChange(rule: Rule): void;
}) {
  const world = useWorld();
  const pick = (kind: 'none' | 'work' | 'switch' | 'function') => {
    if (kind === 'none') onChange(null);
    else if (kind !== 'function') onChange({ kind });
    else {
      const own = ownFunctionId === null ? undefined : world.functions.get(ownFunctionId);
      const fn = [own, ...world.rows].find((r) => r && r.fn.shape.kind !== 'trigger')?.fn;
      if (fn)
        onChange({
          kind,
          functionId: fn.id,
          stops: [
            { from: 0, light: 'off', colour: null, sends: null },
            { from: 1, light: 'steady', colour: null, sends: null },
          ],
        });
    }
  };
  const followed = rule?.kind === 'function' ? world.functions.get(rule.functionId)?.fn : undefined;
  const each = followed ? colourForEach(followed) : [];
  return (
    <div className="lamp-fields">
      <Pick
        label="Lamp follows"
        value={rule?.kind ?? 'none'}
        options={[
          { value: 'none', text: plain },
          { value: 'work', text: 'what the control does' },
          { value: 'switch', text: 'the switch itself' },
          ...(world.rows.length > 0 ? [{ value: 'function' as const, text: 'messages coming back' }] : []),
        ]}
        onPick={(kind) => pick(kind)}
      />
      {rule?.kind === 'function' && (
        <>
          <FunctionPick
            functionId={rule.functionId}
            accepts={(fn) => fn.shape.kind !== 'trigger'}
            onPick={(fn) => onChange({ ...rule, functionId: fn.id })}
          />
          {isTurnedRound(rule) && world.functions.get(rule.functionId)?.fn.shape.kind === 'switch' && (
            <p className="small text-caution">
              It is lit while {got(world.functions, rule.functionId).fn.name} is off, and dark while it is on.{' '}
              <Button variant="quiet" onClick={() => onChange({ ...rule, stops: turnedRound(rule.stops) })}>
                Turn the lamp round
              </Button>
            </p>
          )}
          <ul className="lamp-stops">
            {rule.stops.map((stop, i) => (
              <StopLine
                key={i}
                functionId={rule.functionId}
                stop={stop}
                isOnly={rule.stops.length === 1}
                onChange={(next) => onChange({ ...rule, stops: rule.stops.with(i, next) })}
                onRemove={() => onChange({ ...rule, stops: rule.stops.toSpliced(i, 1) })}
              />
            ))}
          </ul>
          <Button
            variant="quiet"
            onClick={() =>
              onChange({
                ...rule,
                stops: [
                  ...rule.stops,
                  { from: (rule.stops.at(-1)?.from ?? 0) + 1, light: 'blink', colour: null, sends: null },
                ],
              })
            }
          >
            <Plus size={16} strokeWidth={1.75} aria-hidden="true" />
            Another value
          </Button>
          {each.length > 1 && (
            <Button variant="quiet" onClick={() => onChange({ ...rule, stops: each })}>
              <Palette size={16} strokeWidth={1.75} aria-hidden="true" />A colour for each value
            </Button>
          )}
        </>
      )}
    </div>
  );
}

function StopLine({
  functionId,
  stop,
  isOnly,
  onChange,
  onRemove,
}: {
  functionId: string;
  stop: Stop;
  isOnly: boolean;
  onChange(stop: Stop): void;
  onRemove(): void;
}) {
  return (
    <li>
      <ValuePick
        label="From value"
        functionId={functionId}
        value={stop.from}
        onPick={(from) => onChange({ ...stop, from })}
      />
      <Pick
        label="Lamp shows"
        value={stop.light}
        options={LIGHTS.map((value) => ({ value, text: LIGHT_WORDS[value] }))}
        onPick={(light) => onChange({ ...stop, light })}
      />
      <Pick
        label="Colour"
        value={stop.colour ?? 'own'}
        options={[{ value: 'own' as const, text: 'its own' }, ...TAPE_COLOURS]}
        onPick={(c) => onChange({ ...stop, colour: c === 'own' ? null : c })}
      />
      <Pick
        label="Value to the lamp"
        value={stop.sends === null ? 'usual' : 'value'}
        options={[
          { value: 'usual', text: 'as usual' },
          { value: 'value', text: 'a value' },
        ]}
        onPick={(what) => onChange({ ...stop, sends: what === 'usual' ? null : 127 })}
      />
      {stop.sends !== null && (
        <NumberField
          label="Sent value"
          className="narrow"
          value={stop.sends}
          schema={whole('Value', 0, 127)}
          onCommit={(sends) => onChange({ ...stop, sends })}
        />
      )}
      <IconButton icon={X} label="Take this value away" disabled={isOnly} onClick={onRemove} />
    </li>
  );
}
