import { type Control, onlyTaps } from '@idle-step/core/floor';
import { DebounceMs } from '@idle-step/contract';
import { NumberField, Pick } from '../../../ui/Fields';
import type { SetHardware } from './setHardware';
import { nth } from '@idle-step/core/sure';

/** How a control that is pressed is built. */
export function SwitchHardware({ controls, set }: { controls: readonly Control[]; set: SetHardware }) {
  const { hardware } = nth(controls, 0);
  return (
    <fieldset>
      <legend>Its switch</legend>
      <Pick
        label="Is"
        value={hardware.switching}
        options={['momentary', 'latching']}
        onPick={(switching) =>
          set('say how a switch is built', { switching, edge: switching === 'latching' ? 'down' : 'both' })
        }
      />
      <Pick
        label="Sends when it goes"
        value={hardware.edge}
        options={[
          { value: 'both', text: 'down and up' },
          { value: 'down', text: 'down only' },
          { value: 'up', text: 'up only' },
        ]}
        onPick={(edge) => set('say when a switch sends', { edge })}
      />
      <NumberField
        label="Debounce, ms"
        className="narrow"
        value={hardware.debounceMs}
        schema={DebounceMs}
        onCommit={(debounceMs) => set('debounce a switch', { debounceMs })}
      />
      {controls.some(onlyTaps) && (
        <p className="small muted">
          It tells only that it was pressed: hold, double press and release by its own foot are not possible.
          {hardware.switching === 'latching' && ' A momentary switch is recommended.'}
        </p>
      )}
    </fieldset>
  );
}
