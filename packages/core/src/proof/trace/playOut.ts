import { step, type Effect, type LiveEvent, type LiveState, type World } from '../../engine';
import { encode, hex } from '../../midi';
import { type Hop, type TraceWay } from './hops';
import type { TraceRig } from './traceRig';
import { routeHop, sendWay } from './traceSend';
import { noteLoss } from './noteLoss';

/** Ways followed at the most. */
export const WAYS_AT_MOST = 64;
/** How long after the gesture what it sets off is followed, in ms. */
const FOLLOWED_MS = 4000;

type Timed = { readonly atMs: number; readonly effect: Effect };

/** Runs events and everything that comes due after them. */
export function playOut(
  world: World,
  before: LiveState,
  events: readonly LiveEvent[],
  startMs: number,
): Timed[] {
  const found: Timed[] = [];
  let state = before;
  let wakeMs: number | null = null;
  let sends = 0;
  const run = (event: LiveEvent): void => {
    const done = step(world, state, event);
    state = done.state;
    wakeMs = null;
    for (const effect of done.effects) {
      if (effect.kind === 'wake') wakeMs = effect.atMs;
      else if (effect.kind !== 'lamp') found.push({ atMs: event.atMs - startMs, effect });
      if (effect.kind === 'send') sends++;
    }
  };
  for (const event of events) {
    while (wakeMs !== null && wakeMs < event.atMs) run({ kind: 'tick', atMs: wakeMs });
    run(event);
  }
  const endMs = (events.at(-1)?.atMs ?? startMs) + FOLLOWED_MS;
  // One send of a glide tells its way; the others go the same.
  while (wakeMs !== null && wakeMs <= endMs && sends < WAYS_AT_MOST) run({ kind: 'tick', atMs: wakeMs });
  return found;
}

/**
 * Everything that was sent, each with the routes it went through, and what was said in place of sending. Where one
 * route lets a message through, those that hold it back are no loss.
 */
export function waysOf(rig: TraceRig, effects: readonly Timed[]): TraceWay[] {
  const ways: TraceWay[] = [];
  const heldBack: TraceWay[] = [];
  let through: Hop[] = [];
  const told = new Set<string>();
  for (const { atMs, effect } of effects) {
    if (effect.kind === 'note') {
      const loss = noteLoss(rig, effect.note);
      if (loss) ways.push({ hops: through, loss });
    } else if (effect.kind === 'routed') {
      const { hop: made, loss } = routeHop(rig, effect, atMs);
      if (loss) heldBack.push({ hops: [...through, made], loss });
      else through = [...through, made];
    } else if (effect.kind === 'send') {
      // The lamps of a board are no way of the press, and a value on its glide goes the way of its first.
      if (effect.functionId === null && effect.routeId === null && isLamp(rig.world, effect)) continue;
      const key = `${effect.portId} ${effect.functionId ?? hex(encode(effect.message))}`;
      if (told.has(key) && effect.functionId !== null) continue;
      told.add(key);
      const way = sendWay(rig, effect, atMs);
      ways.push({ ...way, hops: [...through.filter((h) => leadsTo(h, effect, rig)), ...way.hops] });
    }
  }
  return ways.length > 0 ? ways : heldBack;
}

/** Whether a route that a message went through is on the way to what was sent: itself, or one that feeds a line. */
const leadsTo = (made: Hop, { routeId }: Effect & { kind: 'send' }, { world }: TraceRig): boolean => {
  const route = world.routes.byId.get(made.routeId ?? '');
  return (
    routeId !== null &&
    (made.routeId === routeId || route?.to.some((t) => world.routes.lines.has(t.portId)) === true)
  );
};

const isLamp = (world: World, { portId }: Effect & { kind: 'send' }): boolean =>
  world.boards.some((b) => b.lampPortId === portId) &&
  (world.devicesBehind.get(portId) ?? []).every((d) => d.role === 'controller');
