import { type FullRig, routeLoops, starvedRoutes } from '@idle-step/core/routing';
import { Name } from '@idle-step/contract';
import { CircleAlert, Plus, Trash2 } from 'lucide-react';
import { useMemo, useState } from 'react';
import { Button } from 'react-bootstrap';
import { useEdit, usePresets, useSongs } from '../../drafts/useDocs';
import { useIsShown } from '../../live/use/useLive';
import { IconButton } from '../../ui/IconButton';
import { TextField } from '../../ui/Fields';
import { moved } from '../../edits/moved';
import { SortableList } from '../../ui/SortableList';
import { ManyPick } from './ManyPick';
import {
  newRoute,
  usersOf,
  withCopy,
  withLine,
  withoutLine,
  withRoute,
  withRoutes,
  type RoutePart,
} from '../../edits/routeEdits';
import { RouteLine } from './RouteLine';
import { destinationOptions } from './routePorts';
import { there } from '@idle-step/core/sure';

/** The rules for messages on their way, in their order, as sentences. */
export function RoutesRoom({ rig }: { rig: FullRig }) {
  // Gates are named by scenes of the set in play, and lines that grow when it comes push away what is pressed.
  const isShown = useIsShown(rig.id);
  return isShown ? (
    <Routes rig={rig} />
  ) : (
    <p className="muted" role="status">
      Fetching the set …
    </p>
  );
}

function Routes({ rig }: { rig: FullRig }) {
  const edit = useEdit('rigs');
  const songs = useSongs(rig.id);
  const presets = usePresets(rig.id);
  const [open, setOpen] = useState<{ id: string; part: RoutePart } | null>(null);
  const [refusal, setRefusal] = useState<string | null>(null);
  const { routes, lines, othersTo } = rig.routing;
  const loops = useMemo(() => routeLoops(rig.routing, rig), [rig]);
  const change = (what: string, next: (rig: FullRig) => FullRig) => edit(rig.id, what, next);
  const add = () => {
    const made = newRoute(rig);
    change('add a route', (r) => withRoutes(r, (list) => [...list, made]));
    setOpen({ id: made.id, part: 'what' });
  };
  const remove = (id: string, name: string) => {
    const users = usersOf(presets, id);
    setRefusal(
      users.length > 0
        ? `${name} is switched by ${users.join('; ')}. Take it out of those actions in Floor first.`
        : null,
    );
    if (users.length === 0)
      change(`remove ${name}`, (r) => withRoutes(r, (list) => list.filter((x) => x.id !== id)));
  };
  return (
    <>
      {loops.map((loop) => (
        <p key={there(loop.place.routeIds).join()} className="notice warn" role="alert">
          <CircleAlert size={16} aria-hidden="true" /> {loop.sentence}
        </p>
      ))}
      {refusal && (
        <p className="field-error" role="alert">
          <CircleAlert size={14} aria-hidden="true" />
          {refusal}
        </p>
      )}
      {routes.length === 0 ? (
        <div className="empty-place">
          <p>
            A route takes in what arrives at an input and sends it on: with other numbers, on another channel,
            as another kind, to several places, and only while its gate is open. What your switches and pedals
            have something to do for never gets here.
          </p>
          <Button variant="go" onClick={add}>
            Add a route
          </Button>
        </div>
      ) : (
        <SortableList
          items={routes}
          label="Routes, in their order"
          className="routes"
          nameOf={(r) => r.name}
          onMove={(from, to) => change('move a route', (r) => withRoutes(r, (list) => moved(list, from, to)))}
          render={(route, index, handle) => (
            <RouteLine
              rig={rig}
              route={route}
              songs={songs}
              starved={starvedRoutes(routes, index)}
              handle={handle}
              open={open?.id === route.id ? open.part : null}
              onOpen={(part) => setOpen(part && { id: route.id, part })}
              onChange={(next) => change(`change ${route.name}`, (r) => withRoute(r, route.id, () => next))}
              onCopy={() => change(`copy ${route.name}`, (r) => withCopy(r, route.id))}
              onRemove={() => remove(route.id, route.name)}
            />
          )}
        />
      )}
      <div className="routes-foot">
        {routes.length > 0 && (
          <Button variant="go" onClick={add}>
            <Plus size={16} strokeWidth={1.75} aria-hidden="true" />
            Add a route
          </Button>
        )}
        <ManyPick
          legend="What no route takes in goes to"
          none="it ends there"
          options={destinationOptions(rig).filter((o) => !lines.some((l) => l.id === o.value))}
          chosen={othersTo}
          onChange={(ids) =>
            change('send the rest', (r) => ({ ...r, routing: { ...r.routing, othersTo: ids } }))
          }
        />
        <LineNames lines={lines} change={change} />
      </div>
    </>
  );
}

/** Ports of routes alone: one route sends there, others take from it. */
function LineNames({
  lines,
  change,
}: {
  lines: FullRig['routing']['lines'];
  change(what: string, next: (rig: FullRig) => FullRig): void;
}) {
  return (
    <section aria-labelledby="lines-head" className="lines">
      <h2 id="lines-head">Lines between routes</h2>
      {lines.length === 0 && (
        <p className="small muted">
          A line is a port of its own: one route sends there, others take from it.
        </p>
      )}
      {lines.map((line) => (
        <div key={line.id} className="field-row">
          <TextField
            label={`Name of line ${line.name}`}
            hideLabel
            value={line.name}
            schema={Name}
            onCommit={(name) =>
              change('name a line', (r) => ({
                ...r,
                routing: {
                  ...r.routing,
                  lines: r.routing.lines.map((l) => (l.id === line.id ? { ...l, name } : l)),
                },
              }))
            }
          />
          <IconButton
            icon={Trash2}
            label={`Remove line ${line.name}`}
            onClick={() => change(`remove line ${line.name}`, (r) => withoutLine(r, line.id))}
          />
        </div>
      ))}
      <Button variant="bare" onClick={() => change('add a line', withLine)}>
        <Plus size={16} strokeWidth={1.75} aria-hidden="true" />
        Add a line
      </Button>
    </section>
  );
}
