import type { FullRig, Route } from '@idle-step/core/routing';
import type { Song } from '@idle-step/core/show';
import type { Finding } from '@idle-step/core/edits';
import { Name } from '@idle-step/contract';
import { isGateOpen, isRouteOn } from '@idle-step/core/engine';
import { Copy, Trash2 } from 'lucide-react';
import { useEffect, useState, type ReactNode } from 'react';
import { Form } from 'react-bootstrap';
import { useLiveHost, useLiveOf, useWorld } from '../../live/use/useLive';
import { NO_COUNTS, type RouteCounts } from '../../live/log/routeTraffic';
import { TextField } from '../../ui/Fields';
import { IconButton } from '../../ui/IconButton';
import { ChangeEditor } from './parts/ChangeEditor';
import { FromEditor } from './parts/FromEditor';
import { GateEditor } from './parts/GateEditor';
import { ToEditor } from './parts/ToEditor';
import { WhatEditor } from './parts/WhatEditor';
import type { RoutePart } from '../../edits/routeEdits';
import { changeWords, fromWords, gateWords, toWords, whatWords } from './routeWords';

/** How long a line stays lit after a message, in ms. */
const LIT_MS = 250;

type Props = {
  rig: FullRig;
  route: Route;
  songs: readonly Song[];
  /** Names of the routes below that get nothing of it while its gate is closed. */
  starved: Finding<'starved'> | null;
  handle: ReactNode;
  /** The part that is open for editing. */
  open: RoutePart | null;
  onOpen(part: RoutePart | null): void;
  onChange(route: Route): void;
  onCopy(): void;
  onRemove(): void;
};

/** One rule as a sentence; each of its parts opens its fields below. Lit while messages pass. */
export function RouteLine({
  rig,
  route,
  songs,
  starved,
  handle,
  open,
  onOpen,
  onChange,
  onCopy,
  onRemove,
}: Props) {
  const host = useLiveHost();
  const world = useWorld();
  const played = world.routes.byId.get(route.id);
  const kept = played ?? route;
  const isOn = useLiveOf(({ state }) => isRouteOn(state, kept));
  const isOpen = useLiveOf(({ state }) => isGateOpen(world, state, kept));
  const part = (name: RoutePart, label: string, words: string) => (
    <button
      type="button"
      className={`part ${open === name ? 'on' : ''}`}
      aria-expanded={open === name}
      aria-label={`${label}: ${words}`}
      onClick={() => onOpen(open === name ? null : name)}
    >
      {words}
    </button>
  );
  const isByHand = route.gate?.by.kind === 'switch' || route.gate?.by.kind === 'controller';
  return (
    <LitRoute routeId={route.id} isOn={isOn}>
      <div className="route-head">
        {handle}
        <Form.Check
          id={`${route.id}-on`}
          type="switch"
          aria-label={`${route.name} is on`}
          checked={route.isOn}
          onChange={(e) => {
            onChange({ ...route, isOn: e.target.checked });
            host.command({
              kind: 'route',
              routeId: route.id,
              part: 'route',
              to: e.target.checked ? 'on' : 'off',
            });
          }}
        />
        <TextField
          label="Name of the route"
          hideLabel
          className="route-name"
          value={route.name}
          schema={Name}
          onCommit={(name) => onChange({ ...route, name })}
        />
        <Counts routeId={route.id} />
        <IconButton icon={Copy} label={`Copy ${route.name}`} onClick={onCopy} />
        <IconButton icon={Trash2} label={`Remove ${route.name}`} onClick={onRemove} />
      </div>
      <p className="route-words">
        <span>From</span> {part('from', 'From', fromWords(rig, route))} <span>take</span>{' '}
        {part('what', 'Take', whatWords(route, rig.middleC))}
        <span>, send</span> {part('change', 'Send', changeWords(route, rig.middleC))} <span>to</span>{' '}
        {part('to', 'To', toWords(rig, route))}
        <span>,</span> {part('gate', 'Gate', gateWords(rig, songs, route))}
        {route.gate && (
          <button
            type="button"
            className={`gate-sign ${isOpen ? 'open' : 'closed'}`}
            disabled={!isByHand || !played}
            title={isByHand ? 'Open or close it by hand' : 'It follows what it is told to follow'}
            aria-label={`Gate of ${route.name} is ${isOpen ? 'open' : 'closed'}`}
            onClick={() => host.command({ kind: 'route', routeId: route.id, part: 'gate', to: 'toggle' })}
          >
            {isOpen ? 'open' : 'closed'}
          </button>
        )}
        <span>{route.after === 'pass' ? '; what is below hears it too.' : '.'}</span>
        {!isOpen && starved && <span className="text-caution"> {starved.sentence}</span>}
      </p>
      {open && (
        <div className="route-part">
          {open === 'from' && <FromEditor rig={rig} route={route} onChange={onChange} />}
          {open === 'what' && <WhatEditor rig={rig} route={route} onChange={onChange} />}
          {open === 'change' && <ChangeEditor rig={rig} route={route} onChange={onChange} />}
          {open === 'gate' && <GateEditor rig={rig} route={route} songs={songs} onChange={onChange} />}
          {open === 'to' && <ToEditor rig={rig} route={route} onChange={onChange} />}
        </div>
      )}
    </LitRoute>
  );
}

/** What a route let through since the page was opened. */
const useCounts = (routeId: string): RouteCounts =>
  useLiveOf((live) => live.routeCounts.get(routeId) ?? NO_COUNTS);

/** The line of a route: lit while messages pass, without what is in it being drawn anew. */
function LitRoute({ routeId, isOn, children }: { routeId: string; isOn: boolean; children: ReactNode }) {
  const host = useLiveHost();
  const isLit = useLit(useCounts(routeId).lastMs, host.clock());
  return (
    <div className={`route ${isLit ? 'lit' : ''} ${isOn ? '' : 'is-off'}`} data-route={routeId}>
      {children}
    </div>
  );
}

function Counts({ routeId }: { routeId: string }) {
  const { came, went, heldBack } = useCounts(routeId);
  return (
    <span className="counts small num" aria-label={`${came} in, ${went} out`}>
      {came} in, {went} out{heldBack > 0 ? `, ${heldBack} held back` : ''}
    </span>
  );
}

/** Whether something passed just now; goes out by itself. */
function useLit(lastMs: number | null, nowMs: number): boolean {
  const [seenMs, setSeenMs] = useState<number | null>(null);
  const isFresh = lastMs !== null && lastMs !== seenMs && nowMs - lastMs < LIT_MS;
  useEffect(() => {
    if (!isFresh) return;
    const timer = window.setTimeout(() => setSeenMs(lastMs), LIT_MS);
    return () => window.clearTimeout(timer);
  }, [isFresh, lastMs]);
  return isFresh;
}
