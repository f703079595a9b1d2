import type { Action, ActionKind, SentKind } from '../../floor';
import type { ChartFunction } from '../../gear';
import type { Reached } from '../../show';
import type { LampCause, LampCauses } from '../lamps/causes';
import type { Live } from '../live/live';
import type { Origin } from '../state/liveState';
import type { World } from '../world/world';
import type { Names } from './names';
import type { SentKnown, SentRow } from './sentRow';

/** How a lamp shines by itself; unknown where nothing tells how its function stands. */
export type Light = 'off' | 'steady' | 'unknown';

/** What the lamp of a control is told by. */
export type LampMoment = {
  readonly world: World;
  readonly state: LampCauses;
  readonly boardIndex: number;
  /** Whether its control is down. */
  readonly down: boolean;
};

/** All that one kind of action is to the rest of the program. */
export type ActionTraits<K extends ActionKind = ActionKind> = {
  /** Does it now. @param from the control, or the cue, that it stands at. */
  act(live: Live, action: Action & { kind: K }, from: Origin): void;
  /** Whether it sends messages of its own. Going to a scene or a song does not: the scene does. */
  readonly isOwn: boolean;
  /** The name proposed for a control that does it first. */
  label(action: Action & { kind: K }, names: Names): string;
  /** What it does, in a few words. Example: `go to scene 3`. */
  deed(action: Action & { kind: K }, names: Names): string;
  /** What it sends, as a row of all that a preset sends. */
  row(action: Action & { kind: K }, known: SentKnown): SentRow;
  /**
   * What a board has to send to do it by itself; `host` for what only this application does, `null` for what depends.
   */
  byBoard(action: Action & { kind: K }): SentKind | 'host' | null;
  /** How the lamp of a control shines that does it first. */
  light(moment: LampMoment, action: Action & { kind: K }): Light;
  /** The part of the live state that this lamp follows; `null` where it follows several. */
  follows(action: Action & { kind: K }, functions: ReadonlyMap<string, Reached>): LampCause | null;
  /** Whether a cue may do it. */
  readonly isInCues: boolean;
  /** Whether it goes on or back by one, so that doing it twice leads somewhere else than doing it once. */
  steps(action: Action & { kind: K }): boolean;
  /** Whether it leads the time line elsewhere: a song as a file is played without it. */
  readonly leadsAway: boolean;
  /** Where it leads feet: `on` to a scene, song or bank, `beside` to what changes the ways there are; `null` nowhere. */
  readonly leads: 'on' | 'beside' | null;
  /** The values that it gives to its function: its chart has to take them. */
  values(action: Action & { kind: K }): readonly number[];
  /** Why it cannot move a function of its kind, as a sentence; `null` where it can. */
  refuses(fn: ChartFunction): string | null;
  /**
   * The action that sets at once what this one would have set, where its cue is skipped; `null` where nothing stays.
   */
  lasting(action: Action & { kind: K }): Action | null;
  /**
   * Of two actions of this kind that alternate: whether things are now as this one leaves them; `null` where that
   * cannot be told.
   */
  stands(
    world: World,
    state: LampCauses,
    action: Action & { kind: K },
    other: Action & { kind: K },
  ): boolean | null;
};

export const lit = (isLit: boolean): Light => (isLit ? 'steady' : 'off');

/** Kinds whose effect cannot be seen afterwards: the lamp is lit while the control is down. */
export const LIT_WHILE_DOWN = {
  light: ({ down }: LampMoment): Light => lit(down),
  follows: (): LampCause => 'held',
};

/**
 * What holds for most kinds: they do not step, give no values to a function, and leave nothing when a cue is skipped.
 */
export const NO_STEP = { steps: () => false };
export const NO_VALUES = { values: (): readonly number[] => [], refuses: () => null };
export const NOTHING_LASTS = { lasting: () => null };
export const NOT_TOLD = { stands: () => null };

/** All of these together. */
export const GOES_NOWHERE = { ...NO_STEP, ...NO_VALUES, ...NOTHING_LASTS, ...NOT_TOLD, leads: null };

/** For a start and a stop of one thing: whether it now runs as the first says. `null` for any other pair. */
export function startsOrStops(first: string, second: string, isRunning: boolean): boolean | null {
  if ((first === 'stop') === (second === 'stop') || first === 'toggle' || second === 'toggle') return null;
  return (first !== 'stop') === isRunning;
}
