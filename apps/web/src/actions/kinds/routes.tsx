import { Waypoints } from 'lucide-react';
import { Pick } from '../../ui/Fields';
import type { ActionEntry, Fields } from '../entry';

export const ROUTE: ActionEntry<'route'> = {
  text: 'switch a route, layer or gate',
  sign: Waypoints,
  words({ routeId, part, to }, world) {
    const found = world.routes.byId.get(routeId);
    return {
      title: found ? `${part === 'gate' ? 'Gate of ' : ''}${found.name}` : 'a route that is gone',
      value: ROUTE_WORDS[part][to],
    };
  },
  instead: () => 'sends nothing itself',
  fields: RouteFields,
  begin({ world }) {
    const found = world.routes.routing.routes[0];
    if (!found) return null;
    const part = found.gate?.by.kind === 'switch' ? 'gate' : 'route';
    return { kind: 'route', routeId: found.id, part, to: 'toggle' };
  },
};

const ROUTE_WORDS = {
  route: { on: 'on', off: 'off', toggle: 'on or off' },
  gate: { on: 'open', off: 'closed', toggle: 'open or closed' },
} as const;

/** The route or gate that a switch works. A gate that follows something else is moved by that again. */
function RouteFields({ world, action, onChange }: Fields<'route'>) {
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
