import { PLAIN_FUNCTION, type ChartTemplate } from '../../gear';
import { ALL_MACHINES, endsNote, readMachineControl, type Message, type TransportCommand } from '../../midi';
import { controllerRow, rangeShape, switchShape, withAt, type StandIn } from '../standIn';
import { nth } from '../../sure';

export const MONITORS = ['off', 'auto', 'in'] as const;

export type HostTrack = {
  readonly armed: boolean;
  /** Whether what comes in is heard: never, while it is armed, or always. */
  readonly monitor: (typeof MONITORS)[number];
  readonly muted: boolean;
  readonly solo: boolean;
  /** 0–127. */
  readonly level: number;
  /** The channel that it takes in, 0–15, `null` for any. */
  readonly channel: number | null;
  /** The track that it goes into, from 0; `null` for the loudspeakers. */
  readonly into: number | null;
};

export type Transport = 'stopped' | 'playing' | 'recording' | 'paused' | 'winding';

/** A note that is held, on the channel it came by. */
export type HostNote = { readonly channel: number; readonly note: number };

/** A track host on a laptop: eight tracks and a transport. */
export type TrackHostState = {
  readonly tracks: readonly HostTrack[];
  readonly transport: Transport;
  readonly notes: readonly HostNote[];
  /** What sounded for the last note, and why. */
  readonly said: string;
};

export const HOST_TRACKS = 8;

/** First controller of each run of eight, track by track. */
const CC = { level: 20, into: 40, channel: 48, mute: 80, solo: 70, arm: 102, monitor: 110 } as const;

/** The machine number that this host answers to, besides the one that means all. */
const OWN_MACHINE = 0;

const AFTER: Record<TransportCommand, Transport> = {
  stop: 'stopped',
  play: 'playing',
  'deferred-play': 'playing',
  'fast-forward': 'winding',
  rewind: 'winding',
  'record-strobe': 'recording',
  'record-exit': 'playing',
  'record-pause': 'paused',
  pause: 'paused',
};

const tracks = Array.from({ length: HOST_TRACKS }, (_, i) => i);

const transportRow = (name: string, command: TransportCommand): ChartTemplate => ({
  name,
  drive: { kind: 'transport', command },
  shape: { kind: 'trigger', sent: 0 },
  ...PLAIN_FUNCTION,
  settleMs: 0,
});

export const trackHost: StandIn<TrackHostState> = {
  title: 'Track host',
  chart: [
    ...tracks.map((i): ChartTemplate => ({
      ...controllerRow(`Arm ${i + 1}`, CC.arm + i, switchShape),
      arms: `Track ${i + 1}`,
    })),
    ...tracks.map((i) => controllerRow(`Monitor ${i + 1}`, CC.monitor + i, switchShape)),
    ...tracks.map((i) => controllerRow(`Mute ${i + 1}`, CC.mute + i, switchShape)),
    ...tracks.map((i) => controllerRow(`Level ${i + 1}`, CC.level + i, rangeShape)),
    ...tracks.map((i): ChartTemplate => ({
      name: `Record ready ${i + 1}`,
      drive: { kind: 'record-ready', track: i + 1 },
      shape: { kind: 'switch', off: 0, on: 1 },
      ...PLAIN_FUNCTION,
      arms: `Track ${i + 1}`,
    })),
    transportRow('Play', 'play'),
    transportRow('Stop', 'stop'),
    transportRow('Record', 'record-strobe'),
    transportRow('Record off', 'record-exit'),
    ...tracks.map((i) => controllerRow(`Solo ${i + 1}`, CC.solo + i, switchShape)),
  ],
  initial: {
    tracks: tracks.map(() => ({
      armed: false,
      monitor: 'auto',
      muted: false,
      solo: false,
      level: 100,
      channel: null,
      into: null,
    })),
    transport: 'stopped',
    notes: [],
    said: '',
  },
  receive(state, message, channel) {
    if (message.kind === 'sysex') return receiveMachine(state, message);
    if (message.kind === 'note-on' || message.kind === 'note-off') return receiveNote(state, message);
    if (message.kind !== 'controller' || message.channel !== channel) return state;
    const { controller, value } = message;
    const on = value >= 64;
    return (
      change(state, controller - CC.arm, { armed: on }) ??
      change(state, controller - CC.monitor, { monitor: value === 0 ? 'off' : value < 64 ? 'auto' : 'in' }) ??
      change(state, controller - CC.mute, { muted: on }) ??
      change(state, controller - CC.solo, { solo: on }) ??
      change(state, controller - CC.level, { level: value }) ??
      // Where a track goes and what it takes in: 0 is the loudspeakers or any channel, n the track or channel n.
      change(state, controller - CC.into, { into: value === 0 || value > HOST_TRACKS ? null : value - 1 }) ??
      change(state, controller - CC.channel, { channel: value === 0 || value > 16 ? null : value - 1 }) ??
      state
    );
  },
};

function receiveNote(
  state: TrackHostState,
  message: Message & { kind: 'note-on' | 'note-off' },
): TrackHostState {
  const { channel, note } = message;
  const notes = state.notes.filter((n) => n.channel !== channel || n.note !== note);
  if (endsNote(message)) return notes.length === state.notes.length ? state : { ...state, notes };
  return { ...state, notes: [...notes, { channel, note }], said: whySounds(state, channel, note) };
}

/**
 * Tracks that sound for a note on a channel (0–15), from 0: those that take it in and are monitored or armed, as far as
 * nothing on their way out is muted or left out by a solo. Two armed tracks with the same input both sound.
 */
export const tracksSounding = ({ tracks: all }: TrackHostState, channel: number): readonly number[] =>
  tracks.filter((i) => takesIn(nth(all, i), channel) && isHeard(all, i));

const takesIn = (track: HostTrack, channel: number): boolean =>
  (track.channel === null || track.channel === channel) &&
  (track.monitor === 'in' || (track.monitor === 'auto' && track.armed));

/** Whether a track reaches the loudspeakers, through the tracks that it goes into. */
function isHeard(all: readonly HostTrack[], from: number): boolean {
  const anySolo = all.some((t) => t.solo);
  let isSoloed = !anySolo;
  const seen = new Set<number>();
  for (let i: number | null = from; i !== null; i = nth(all, i).into) {
    // Tracks that go into each other in a ring reach nothing.
    if (seen.has(i) || nth(all, i).muted || nth(all, i).level === 0) return false;
    seen.add(i);
    isSoloed ||= nth(all, i).solo;
  }
  return isSoloed;
}

/** What sounds for a note, or why nothing does. */
function whySounds(state: TrackHostState, channel: number, note: number): string {
  const sounding = tracksSounding(state, channel);
  if (sounding.length > 0) return `note ${note} sounds on track ${sounding.map((i) => i + 1).join(' and ')}`;
  const { tracks: all } = state;
  const armed = all.filter((t) => t.armed || t.monitor === 'in');
  if (armed.length === 0) return `note ${note} is silent: no track is armed`;
  const taking = all.filter((t) => takesIn(t, channel));
  if (taking.length === 0)
    return armed.every((t) => t.monitor === 'off')
      ? `note ${note} is silent: its track is not monitored`
      : `note ${note} is silent: no armed track takes in channel ${channel + 1}`;
  return all.some((t) => t.solo)
    ? `note ${note} is silent: another track is solo`
    : `note ${note} is silent: its track, or the one it goes into, is muted or turned down`;
}

function receiveMachine(state: TrackHostState, message: Message): TrackHostState {
  let next = state;
  for (const control of readMachineControl(message)) {
    if (control.machine !== ALL_MACHINES && control.machine !== OWN_MACHINE) continue;
    if (control.kind === 'transport') next = { ...next, transport: AFTER[control.command] };
    if (control.kind === 'record-ready')
      next = change(next, control.track - 1, { armed: control.armed }) ?? next;
  }
  return next;
}

function change(state: TrackHostState, index: number, part: Partial<HostTrack>): TrackHostState | null {
  const track = state.tracks[index];
  return track ? { ...state, tracks: withAt(state.tracks, index, { ...track, ...part }) } : null;
}
