import { CurvePick } from '../../ui/CurvePick';
import { whole, type FeelDoc, type PresetDoc } from '@idle-step/contract';
import { controlsOfKind, feelOf, isStruck, type Board, type ControlKind } from '@idle-step/core/floor';
import { NumberField, Pick } from '../../ui/Fields';
import { useEdit } from '../../drafts/useDocs';
import { KIND_WORDS } from './ControlSettings';
import { LampFields } from './LampFields';

/** How all controls of a kind feel in a preset: velocity, pressure and lamps; and how many that are. */
export function FeelFields({ preset, board, kind }: { preset: PresetDoc; board: Board; kind: ControlKind }) {
  const edit = useEdit('presets');
  const feel = feelOf(preset, kind) as FeelDoc;
  const count = controlsOfKind(board, kind);
  const set = (label: string, part: Partial<FeelDoc>) =>
    edit(preset.id, label, (p) => ({
      ...p,
      feel: [...p.feel.filter((f) => f.kind !== kind), { ...(feelOf(p, kind) as FeelDoc), ...part }],
    }));
  return (
    <fieldset className="feel">
      <legend>
        Every {KIND_WORDS[kind]} of this preset{' '}
        <span className="muted small">
          changes {count} {count === 1 ? 'control' : 'controls'}
        </span>
      </legend>
      {isStruck(kind) && (
        <>
          <Pick
            label="Velocity"
            value={feel.velocity}
            options={[
              { value: 'played', text: 'as it is played' },
              { value: 'fixed', text: 'always the same' },
            ]}
            onPick={(velocity) => set('set a velocity', { velocity })}
          />
          {feel.velocity === 'fixed' ? (
            <NumberField
              label="Always"
              className="narrow"
              value={feel.fixed}
              schema={whole('Velocity', 1, 127)}
              onCommit={(fixed) => set('fix a velocity', { fixed })}
            />
          ) : (
            <CurvePick
              label="Velocity curve"
              value={feel.curve}
              onPick={(curve) => set('set a sensitivity', { curve })}
            />
          )}
          <Pick
            label="Pressure becomes"
            value={feel.pressure}
            options={[
              { value: 'off', text: 'nothing' },
              { value: 'channel', text: 'channel pressure' },
              { value: 'poly', text: 'polyphonic pressure' },
              { value: 'controller', text: 'a controller' },
            ]}
            onPick={(pressure) => set('route pressure', { pressure })}
          />
          {feel.pressure === 'controller' && (
            <NumberField
              label="Controller"
              className="narrow"
              value={feel.controller}
              schema={whole('Controller', 0, 127)}
              onCommit={(controller) => set('route pressure', { controller })}
            />
          )}
        </>
      )}
      <LampFields
        rule={feel.lamp}
        plain="what each control does"
        onChange={(lamp) => set('set the lamps of a kind', { lamp })}
      />
    </fieldset>
  );
}
