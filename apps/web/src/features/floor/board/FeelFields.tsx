import {
  type Preset,
  type Feel,
  type Assignment,
  controlsOfKind,
  feelOf,
  isFelt,
  isPressed,
  type Board,
  type ControlKind,
} from '@idle-step/core/floor';
import { CurvePick } from '../../../ui/CurvePick';
import { whole } from '@idle-step/contract';
import { Form } from 'react-bootstrap';
import { NumberField, Pick } from '../../../ui/Fields';
import { useEdit } from '../../../drafts/useDocs';
import { KIND_WORDS } from '../control/ControlSettings';
import { LampFields } from '../control/LampFields';

/** How all controls of a kind feel in a preset: velocity, pressure and lamps; and how many that are. */
export function FeelFields({ preset, board, kind }: { preset: Preset; board: Board; kind: ControlKind }) {
  const edit = useEdit('presets');
  const feel = feelOf(preset, kind);
  const count = controlsOfKind(board, kind);
  const set = (label: string, part: Partial<Feel>) =>
    edit(preset.id, label, (p) => ({
      ...p,
      feel: [...p.feel.filter((f) => f.kind !== kind), { ...feelOf(p, kind), ...part }],
    }));
  return (
    <fieldset className="feel">
      <legend>
        Every {KIND_WORDS[kind]} of this preset{' '}
        <span className="muted small">
          changes {count} {count === 1 ? 'control' : 'controls'}
        </span>
      </legend>
      {isPressed(kind) && (
        <Form.Check
          id="kind-felt"
          label="feels how hard it is pressed"
          checked={isFelt(feel)}
          onChange={(e) =>
            set(e.target.checked ? 'feel how hard a kind is pressed' : 'feel no strength', {
              isFelt: e.target.checked,
            })
          }
        />
      )}
      {isPressed(kind) && isFelt(feel) && <TouchFields touch={feel} onChange={set} />}
      <LampFields
        rule={feel.lamp}
        plain="what each control does"
        onChange={(lamp) => set('set the lamps of a kind', { lamp })}
      />
    </fieldset>
  );
}

/** How one control is struck by itself, or as every one of its kind. */
export function OwnTouch({
  preset,
  assignment,
  kind,
  onChange,
}: {
  preset: Preset;
  assignment: Assignment;
  kind: ControlKind;
  onChange(label: string, touch: Assignment['touch']): void;
}) {
  const { touch } = assignment;
  const feel = feelOf(preset, kind);
  const { kind: _kind, lamp: _lamp, isFelt: _felt, ...ofKind } = feel;
  return (
    <>
      <Form.Check
        id="own-touch"
        label={isFelt(feel) ? 'velocity and pressure of its own' : 'feels how hard it is pressed'}
        checked={touch !== null}
        onChange={(e) => onChange('set a touch of its own', e.target.checked ? ofKind : null)}
      />
      {touch && (
        <TouchFields touch={touch} onChange={(label, part) => onChange(label, { ...touch, ...part })} />
      )}
    </>
  );
}

/** How a strike and the pressure after it are sent. */
function TouchFields({
  touch,
  onChange,
}: {
  touch: Touch;
  onChange(label: string, part: Partial<Touch>): void;
}) {
  return (
    <>
      <Pick
        label="Velocity"
        value={touch.velocity}
        options={[
          { value: 'played', text: 'as it is played' },
          { value: 'fixed', text: 'always the same' },
        ]}
        onPick={(velocity) => onChange('set a velocity', { velocity })}
      />
      {touch.velocity === 'fixed' ? (
        <NumberField
          label="Always"
          className="narrow"
          value={touch.fixed}
          schema={whole('Velocity', 1, 127)}
          onCommit={(fixed) => onChange('fix a velocity', { fixed })}
        />
      ) : (
        <CurvePick
          label="Velocity curve"
          value={touch.curve}
          onPick={(curve) => onChange('set a sensitivity', { curve })}
        />
      )}
      <Pick
        label="Pressure becomes"
        value={touch.pressure}
        options={[
          { value: 'off', text: 'nothing' },
          { value: 'channel', text: 'channel pressure' },
          { value: 'poly', text: 'polyphonic pressure' },
          { value: 'controller', text: 'a controller' },
        ]}
        onPick={(pressure) => onChange('route pressure', { pressure })}
      />
      {touch.pressure === 'controller' && (
        <NumberField
          label="Controller"
          className="narrow"
          value={touch.controller}
          schema={whole('Controller', 0, 127)}
          onCommit={(controller) => onChange('route pressure', { controller })}
        />
      )}
    </>
  );
}

type Touch = NonNullable<Assignment['touch']>;
