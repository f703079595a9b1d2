import { applyCurve } from '../../floor';
import {
  channelPressure,
  controller,
  noteOff,
  noteOn,
  pitchBend,
  polyPressure,
  program,
  type Message,
} from '../../midi';
import {
  BEND_CENTRE,
  isAtRest,
  isHoldPedal,
  numberOf,
  routeKind,
  valueOf,
  type NumberedKind,
  type RouteChange,
  type RouteKind,
  type Span,
} from '../route';

/**
 * A change made ready to be applied to many messages: tables in place of lists.
 * The result is the same message when nothing about it changes, and `null` when it is lost: a note moved out of
 * 0–127, or a kind that cannot be made of it (the end of a note has no program).
 * @param values what the route takes in: the span that is scaled.
 */
export function compileChange(
  change: RouteChange,
  values: Span | null,
): (message: Message) => Message | null {
  const tables = numberTables(change);
  const scale = scaleOf(change, values);
  const { transpose, programShift, as } = change;
  const changesChannel = change.channel.kind !== 'keep';
  const channelOf = (channel: number): number => {
    if (change.channel.kind === 'force') return change.channel.channel;
    return change.channel.kind === 'shift' ? (channel + change.channel.by + 32) % 16 : channel;
  };
  if (!tables && !scale && transpose === 0 && programShift === 0 && !as && !changesChannel)
    return (message) => message;

  return (message) => {
    if (!('channel' in message)) return message;
    const channel = channelOf(message.channel);
    const kind = routeKind(message);
    // 0 for what has no number, as pressure of a channel.
    let number = numberOf(message) ?? 0;
    number = tables?.[kind]?.[number] ?? number;
    const by = kind === 'program' ? programShift : isKey(kind) ? transpose : 0;
    number += by;
    if (number < 0 || number > 127) return null;
    if (as) return converted(message, channel, as.number ?? number, as.kind, scale);
    switch (message.kind) {
      case 'note-on': {
        // Velocity 0 ends a note and is no loudness.
        const { velocity } = message;
        return noteOn(channel, number, velocity === 0 || !scale ? velocity : Math.max(1, scale(velocity)));
      }
      case 'note-off':
        return noteOff(channel, number, message.velocity);
      case 'poly-pressure':
        return polyPressure(channel, number, scale ? scale(message.pressure) : message.pressure);
      case 'controller':
        return scaledController(channel, number, message.value, scale, message.value < 64);
      case 'program':
        return program(channel, number);
      case 'channel-pressure':
        return channelPressure(channel, scale ? scale(message.pressure) : message.pressure);
      case 'pitch-bend':
        return pitchBend(channel, scale ? bent(scale, message.value) : message.value);
    }
  };
}

const isKey = (kind: ReturnType<typeof routeKind>): boolean => kind === 'note' || kind === 'poly-pressure';

type Scale = (value: number) => number;

/** A pedal that is up stays up, whatever becomes of its values. */
function scaledController(
  channel: number,
  number: number,
  value: number,
  scale: Scale | null,
  isUp: boolean,
): Message {
  const scaled = scale ? scale(value) : value;
  return controller(channel, number, isHoldPedal(number) && isUp ? Math.min(scaled, 63) : scaled);
}

/** One line for each kind, so that a message finds its number without a search. */
function numberTables({ numbers }: RouteChange): Readonly<Partial<Record<RouteKind, Uint8Array>>> | null {
  if (numbers.length === 0) return null;
  const table = (kind: NumberedKind): Uint8Array => {
    const line = Uint8Array.from({ length: 128 }, (_, i) => i);
    // The first line that names a number decides.
    for (const entry of [...numbers].reverse())
      if (entry.kind === null || entry.kind === kind) line[entry.from] = entry.to;
    return line;
  };
  // Pressure on a key goes where the key goes.
  const notes = table('note');
  return { controller: table('controller'), note: notes, 'poly-pressure': notes, program: table('program') };
}

/** `null` where values stay as they are. Whole values are looked up; a bend has fractions between them. */
function scaleOf({ value: { curve, from, to, fixed } }: RouteChange, values: Span | null): Scale | null {
  if (fixed !== null) return () => fixed;
  if (curve === 'linear' && from === 0 && to === 127) return null;
  const low = values?.from ?? 0;
  const width = Math.max(1, (values?.to ?? 127) - low);
  const at = (value: number): number => {
    const travel = Math.min(1, Math.max(0, (value - low) / width));
    return Math.round(from + (to - from) * applyCurve(curve, travel));
  };
  const line = Uint8Array.from({ length: 128 }, (_, value) => at(value));
  return (value) => line[value] ?? at(value);
}

/** A bend keeps its fine half where it is not scaled; scaled, the centre stays the centre of what it becomes. */
const bent = (scale: Scale, value: number): number =>
  value === BEND_CENTRE ? BEND_CENTRE : Math.min(16383, Math.round((scale(value / 128) * 16383) / 127));

/** Made into another kind. A note's start carries its velocity and its end 0; a controller above 0 starts a note. */
function converted(
  message: Message,
  channel: number,
  number: number,
  kind: NonNullable<RouteChange['as']>['kind'],
  scale: Scale | null,
): Message | null {
  const isRest = isAtRest(message);
  const raw = routeKind(message) === 'note' && isRest ? 0 : (valueOf(message) ?? 127);
  const value = scale ? scale(raw) : raw;
  switch (kind) {
    case 'note':
      return isRest ? noteOff(channel, number) : noteOn(channel, number, Math.max(1, value));
    case 'controller':
      return scaledController(channel, number, raw, scale, isRest || raw < 64);
    case 'program':
      return isRest ? null : program(channel, number);
    case 'channel-pressure':
      return channelPressure(channel, value);
    case 'pitch-bend':
      return isRest ? pitchBend(channel, BEND_CENTRE) : pitchBend(channel, Math.round((value * 16383) / 127));
  }
}
