import { PLAIN_FUNCTION, type ChartTemplate } from '../gear';
import { ALL_MACHINES, readMachineControl, type Message, type TransportCommand } from '../midi';
import { controllerRow, rangeShape, switchShape, withAt, type StandIn } from './standIn';

export type HostTrack = {
  readonly armed: boolean;
  readonly monitored: boolean;
  readonly muted: boolean;
  /** 0–127. */
  readonly level: number;
};

export type Transport = 'stopped' | 'playing' | 'recording' | 'paused' | 'winding';

/** A track host on a laptop: eight tracks and a transport. */
export type TrackHostState = { readonly tracks: readonly HostTrack[]; readonly transport: Transport };

export const HOST_TRACKS = 8;

/** First controller of each run of eight, track by track. */
const CC = { level: 20, mute: 80, arm: 102, monitor: 110 } as const;

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
  ],
  initial: {
    tracks: tracks.map(() => ({ armed: false, monitored: false, muted: false, level: 100 })),
    transport: 'stopped',
  },
  receive(state, message, channel) {
    if (message.kind === 'sysex') return receiveMachine(state, message);
    if (message.kind !== 'controller' || message.channel !== channel) return state;
    const { controller, value } = message;
    const on = value >= 64;
    return (
      change(state, controller - CC.arm, { armed: on }) ??
      change(state, controller - CC.monitor, { monitored: on }) ??
      change(state, controller - CC.mute, { muted: on }) ??
      change(state, controller - CC.level, { level: value }) ??
      state
    );
  },
};

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
