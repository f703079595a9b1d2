import { shownText, shownValue, type ChartFunction } from '../../../gear';
import type { Action } from '../../../floor';
import { asks, awaitAnswer } from '../../heard/asking';
import type { Live } from '../../live/live';
import { setFunction } from '../../live/sending';
import type { LampCauses } from '../../lamps/causes';
import { assumedAt, isNotKnown, stands, valueOf } from '../../state/known';
import type { Origin } from '../../state/liveState';
import { startRamp } from '../../time/ramps';
import type { World } from '../../world/world';
import { switchOneOf } from '../arming';
import type { Names } from '../names';
import { functionRow, type SentFunction, type SentKnown, type SentRow } from '../sentRow';
import { GOES_NOWHERE, lit, type ActionTraits, type LampMoment, type Light } from '../traits';
import { nth } from '../../../sure';

type OfFunction = Action & { readonly functionId: string };

const found = ({ functionId }: OfFunction, { find }: Names) => find(functionId);

/** What is the same for everything that moves a function of a chart. */
export const MOVES_FUNCTION = {
  isOwn: true,
  isInCues: true,
  leadsAway: false,
  label: (action: OfFunction, names: Names) => found(action, names)?.fn.name ?? 'gone',
  byBoard: () => null,
  follows: () => 'registers',
  ...GOES_NOWHERE,
} satisfies Partial<ActionTraits>;

const needsSwitch = (fn: ChartFunction): string | null =>
  fn.shape.kind === 'switch' ? null : `${fn.name} is no switch, so it cannot be switched on and off.`;

/** What it does, with the name of its function: of `Kelpline Snapshot` made `glide Kelpline Snapshot`. */
export const deedOf =
  (words: (name: string, fn: ChartFunction) => string) =>
  (action: OfFunction, names: Names): string => {
    const at = found(action, names);
    return at ? words(`${at.device.name} ${at.fn.name}`, at.fn) : 'a function that is gone';
  };

/** Its row of what a preset sends. @param value the one that it sends, `null` where that depends. */
export const rowOf =
  <A extends OfFunction>(
    words: (fn: ChartFunction) => string,
    value: (action: A) => number | null = () => null,
  ) =>
  (action: A, { functions }: SentKnown): SentRow => {
    const at = functions.get(action.functionId);
    return functionRow(at, value(action), at ? words(at.fn) : 'moves a function that is gone');
  };

/** Lit while its function stands away from nothing; one that another has taken the place of is not in force. */
export function litWhileOn({ world, state }: LampMoment, { functionId }: OfFunction): Light {
  const reached = world.functions.get(functionId);
  if (!reached) return 'off';
  const value = assumedAt(state, reached);
  if (value === undefined) return isNotKnown(state, reached) ? 'unknown' : 'off';
  return lit(value !== 0);
}

/** Lit while its function stands at a value. */
function litAt({ world, state }: LampMoment, functionId: string, wanted: number): Light {
  const reached = world.functions.get(functionId);
  if (!reached) return 'off';
  const value = assumedAt(state, reached);
  if (value === wanted) return 'steady';
  return value === undefined && isNotKnown(state, reached) ? 'unknown' : lit(stands(state, reached, wanted));
}

/** Sets a function to one value. */
export const SET: ActionTraits<'set'> = {
  ...MOVES_FUNCTION,
  act: (live, { functionId, value }) => setFunction(live, functionId, value),
  label(action, names) {
    const at = found(action, names);
    if (!at) return 'gone';
    if (at.fn.shape.kind === 'trigger') return at.fn.name;
    const { number, label } = shownValue(at.device, at.fn, action.value);
    return at.fn.shape.kind === 'switch' ? `${at.fn.name} ${label}` : label || `${at.fn.name} ${number}`;
  },
  deed(action, names) {
    const at = found(action, names);
    return at
      ? `${at.device.name} ${at.fn.name}: ${shownText(at.device, at.fn, action.value)}`
      : 'a function that is gone';
  },
  row(action, { functions }) {
    const at = functions.get(action.functionId);
    return functionRow(at, action.value, at ? setWords(at, action.value) : 'moves a function that is gone');
  },
  light: (moment, { functionId, value }) =>
    isTrigger(moment.world, functionId) ? lit(moment.down) : litAt(moment, functionId, value),
  follows: ({ functionId }, functions) =>
    functions.get(functionId)?.fn.shape.kind === 'trigger' ? 'held' : 'registers',
  values: ({ value }) => [value],
  lasting: (action) => action,
  stands(world, state, first, second) {
    if (first.functionId !== second.functionId || first.value === second.value) return null;
    const value = valueOf(world, state, first.functionId);
    return value === first.value ? true : value === second.value ? false : null;
  },
};

const isTrigger = ({ functions }: World, functionId: string): boolean =>
  functions.get(functionId)?.fn.shape.kind === 'trigger';

function setWords({ device, fn }: SentFunction, value: number): string {
  if (fn.shape.kind === 'trigger') return fn.name;
  const { number, label } = shownValue(device, fn, value);
  return [`sets ${fn.name}`, number, label].filter(Boolean).join(' ');
}

/** Turns a switch over. */
export const TOGGLE: ActionTraits<'toggle'> = {
  ...MOVES_FUNCTION,
  act: (live, action, from) => toggle(live, from, action),
  deed: deedOf((name) => `toggle ${name}`),
  row: rowOf((fn) => `toggles ${fn.name}`),
  light: litWhileOn,
  refuses: needsSwitch,
};

/**
 * Turns a function over. Where nothing tells whether it is on, its device is asked; one that cannot be asked, or does not
 * answer, is told off: "on" would do nothing where it is on already, and from off on it is known.
 */
function toggle(live: Live, from: Origin, action: Action & { kind: 'toggle' }): void {
  const { functionId } = action;
  const now = live.assumed(functionId);
  if (now === undefined && live.world.functions.has(functionId)) {
    if (asks(live, functionId, from.controlId)) {
      awaitAnswer(live, from, action);
      return;
    }
    live.note({ code: 'switched-off-unknown', functionId });
  }
  setFunction(live, functionId, now === 0 ? 1 : 0);
}

/** One value when its gesture fires, another when its control goes up. */
export const MOMENTARY: ActionTraits<'momentary'> = {
  ...MOVES_FUNCTION,
  act: (live, { functionId, down }) => setFunction(live, functionId, down),
  deed: deedOf((name) => name),
  row: rowOf(
    (fn) => `holds ${fn.name} while down`,
    ({ down }) => down,
  ),
  light: (moment, { functionId, down }) => litAt(moment, functionId, down),
  isInCues: false,
  values: ({ down, up }) => [down, up],
};

/** The next of a list of values. */
export const STEP: ActionTraits<'step'> = {
  ...MOVES_FUNCTION,
  act: takeStep,
  deed: deedOf((name) => name),
  row: rowOf((fn) => `steps ${fn.name}`),
  light: litWhileOn,
  values: ({ values }) => values,
};

/** Sets the value of the next step of a list; where one value stands in it several times, by the place it stood at. */
function takeStep(live: Live, action: Action & { kind: 'step' }): void {
  const now = live.assumed(action.functionId);
  const place = nextPlace(action, now, live.state.steps[action.id]);
  live.state.steps = { ...live.state.steps, [action.id]: place };
  setFunction(live, action.functionId, nth(action.values, place));
}

/** The place after the one in force, from 0; from outside the list its first, or its last when it goes back. */
function nextPlace(
  { values, direction, atEnd }: Action & { kind: 'step' },
  now: number | undefined,
  stoodAt: number | undefined,
): number {
  const last = values.length - 1;
  if (direction === 'reset') return 0;
  const isThere = stoodAt !== undefined && now !== undefined && values[stoodAt] === now;
  const at = isThere ? stoodAt : now === undefined ? -1 : values.indexOf(now);
  if (at < 0) return direction === 'forward' ? 0 : last;
  const next = at + (direction === 'forward' ? 1 : -1);
  if (next >= 0 && next <= last) return next;
  return atEnd === 'stop' ? at : next < 0 ? last : 0;
}

/** Switches its function on, and those of all others that name the same circle off. */
export const ONE_OF: ActionTraits<'one-of'> = {
  ...MOVES_FUNCTION,
  act: (live, { functionId, circle }, { boardId }) => switchOneOf(live, boardId, functionId, circle),
  deed: deedOf((name) => name),
  row: rowOf((fn) => `switches ${fn.name} on, the others off`),
  light: litWhileOn,
  isInCues: false,
  refuses: needsSwitch,
};

/** Moves a function over time. */
export const RAMP: ActionTraits<'ramp'> = {
  ...MOVES_FUNCTION,
  act: startRamp,
  deed: deedOf((name) => `glide ${name}`),
  row: rowOf((fn) => `glides ${fn.name}`),
  byBoard: () => 'host',
  light: ({ state }, { functionId }) => lit(isOnRamp(state, functionId)),
  follows: () => 'ramps',
  values: ({ from, to }) => (from === null ? [to] : [from, to]),
  lasting: (action) => ({ ...action, time: { amount: 0, unit: 's' } }),
};

const isOnRamp = ({ ramps }: LampCauses, functionId: string): boolean =>
  ramps.some((r) => r.functionId === functionId);
