import { initialState, step, type LiveEvent, type LiveState, type World } from '@idle-step/core/engine';
import { isPressed } from '@idle-step/core/floor';
import { encode } from '@idle-step/core/midi';

/** Events that are played to nobody. Browsers compile what has run some hundred times. */
const EVENTS = 3000;
/** Of them in one piece at the most. */
const EVENTS_A_PIECE = 20;
/** How long one piece may take, in ms: what a press that comes meanwhile waits at the most. */
const PIECE_MS = 3;
/** Ends a piece of it while so much of the idle time is left, in ms. */
const RESERVE_MS = 1;
/** How long a page that was opened has for its first pictures before it begins, in ms. */
const BEGIN_AFTER_MS = 1500;

/** Runs something once there is nothing else to do; `leftMs` says how long that lasts. */
export type WhenIdle = (run: (leftMs: () => number) => void) => void;

/**
 * Plays a show to nobody while the page is idle: the first press of an evening then finds an engine that the browser has
 * compiled, and none of that is left for the moment when somebody plays.
 */
export function warmUp(world: World, whenIdle: WhenIdle): Promise<void> {
  const events = eventsOf(world);
  if (events.length === 0) return Promise.resolve();
  let state: LiveState = initialState(world, 0);
  let done = 0;
  return new Promise((resolve) => {
    const piece = (leftMs: () => number) => {
      const end = Math.min(EVENTS, done + EVENTS_A_PIECE);
      do {
        const event = events[done % events.length]!;
        const stepped = step(world, state, { ...event, atMs: done * 5 });
        state = stepped.state;
        for (const effect of stepped.effects) if (effect.kind === 'send') encode(effect.message);
        done++;
      } while (done < end && leftMs() > RESERVE_MS);
      if (done < EVENTS) whenIdle(piece);
      else resolve();
    };
    whenIdle(piece);
  });
}

/** Every control of every board once, with the time that passes between. */
const eventsOf = (world: World): LiveEvent[] =>
  [...world.controls].flatMap(([controlId, { control }]): LiveEvent[] => {
    const at = (command: (LiveEvent & { kind: 'command' })['command']): LiveEvent => ({
      kind: 'command',
      atMs: 0,
      command,
    });
    const tick: LiveEvent = { kind: 'tick', atMs: 0 };
    return isPressed(control.kind)
      ? [
          at({ kind: 'switch', controlId, velocity: 127 }),
          tick,
          at({ kind: 'switch', controlId, velocity: 0 }),
          tick,
        ]
      : [
          at({ kind: 'move', controlId, travel: 40 }),
          tick,
          at({ kind: 'move', controlId, travel: 90 }),
          tick,
        ];
  });

let isBegun = false;

/** Once a page, for the first show in which there is something to press. */
export function warmUpOnce(world: World): void {
  if (isBegun || world.controls.size === 0 || !('requestIdleCallback' in window)) return;
  isBegun = true;
  const whenIdle: WhenIdle = (run) =>
    window.requestIdleCallback((deadline) => {
      const endMs = performance.now() + PIECE_MS;
      run(() => Math.min(deadline.timeRemaining(), endMs - performance.now()));
    });
  window.setTimeout(() => void warmUp(world, whenIdle), BEGIN_AFTER_MS);
}
