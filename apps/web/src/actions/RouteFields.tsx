import type { World } from '@idle-step/core/engine';
import { Pick } from '../ui/Fields';
import type { Fields } from './fields';

/** The route or gate that a switch works. A gate that follows something else is moved by that again. */
export function RouteFields({ world, action, onChange }: Fields<'route'> & { world: World }) {
  const { routes } = world.routes.routing;
  const isGate = action.part === 'gate';
  return (
    <>
      <Pick
        label="Route"
        value={action.routeId}
        options={routes.map((r) => ({ value: r.id, text: r.name }))}
        onPick={(routeId) => onChange({ ...action, routeId })}
      />
      <Pick
        label="What of it"
        value={action.part}
        options={[
          { value: 'route', text: 'the route itself' },
          { value: 'gate', text: 'its gate' },
        ]}
        onPick={(part) => onChange({ ...action, part })}
      />
      <Pick
        label="Switches it"
        value={action.to}
        options={[
          { value: 'toggle', text: isGate ? 'open or close' : 'on or off' },
          { value: 'on', text: isGate ? 'open' : 'on' },
          { value: 'off', text: isGate ? 'close' : 'off' },
        ]}
        onPick={(to) => onChange({ ...action, to })}
      />
    </>
  );
}
