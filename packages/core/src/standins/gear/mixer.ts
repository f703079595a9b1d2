import { PLAIN_FUNCTION } from '../../gear';
import type { Message } from '../../midi';
import { hearTempo, PLAIN_TEMPO, type ClockTempo } from '../clockTempo';
import { controllerRow, rangeShape, switchShape, withAt, type StandIn } from '../standIn';
import { nth, there } from '../../sure';

/** Level and pan 0–127, fractions while they are on their way. */
export type Strip = {
  readonly level: number;
  readonly pan: number;
  readonly muted: boolean;
  readonly solo: boolean;
};

export type MixMemory = {
  readonly strips: readonly Strip[];
  /** How long it takes to go there. */
  readonly time: { readonly amount: number; readonly unit: 's' | 'beats' };
};

/** A fade from where the strips were to a memory; beats are counted at `bpm` since `sinceMs`, when it had come `share`. */
export type MixFade = {
  readonly from: readonly Strip[];
  readonly to: readonly Strip[];
  readonly time: MixMemory['time'];
  readonly sinceMs: number;
  readonly share: number;
  readonly bpm: number;
};

/** A mixer of sixteen strips, strip n on channel n, with 24 mix memories. */
export type MixerState = {
  readonly strips: readonly Strip[];
  readonly memories: readonly (MixMemory | null)[];
  /** The memory that was captured or recalled last. */
  readonly current: number | null;
  readonly fade: MixFade | null;
  readonly tempo: ClockTempo;
  readonly said: string;
};

export const MIXER_STRIPS = 16;
export const MIX_MEMORIES = 24;
/** Shown tempo is this much above what is sent. */
const TEMPO_FROM = 60;

const CC = { level: 7, pan: 10, mute: 80, solo: 81, capture: 82, tenths: 83, beats: 84, tempo: 76 } as const;

const memoryNames = Array.from({ length: MIX_MEMORIES }, (_, i) => `Mix ${i + 1}`);

export const mixer: StandIn<MixerState> = {
  title: 'Mixer',
  chart: [
    controllerRow('Level', CC.level, rangeShape),
    controllerRow('Pan', CC.pan, { kind: 'range', min: 0, max: 127, shownFrom: -64 }),
    controllerRow('Mute', CC.mute, switchShape),
    controllerRow('Solo', CC.solo, switchShape),
    {
      name: 'Mix memory',
      drive: { kind: 'program', bank: null },
      shape: { kind: 'program', names: memoryNames.map((name, program) => ({ program, name })) },
      ...PLAIN_FUNCTION,
    },
    controllerRow('Capture', CC.capture, { kind: 'choice', first: 0, shownFrom: 1, labels: memoryNames }),
    controllerRow('Fade to the mix chosen, tenths of a second', CC.tenths, rangeShape),
    controllerRow('Fade to the mix chosen, beats', CC.beats, rangeShape),
    controllerRow('Tempo of fades in beats', CC.tempo, {
      kind: 'range',
      min: 0,
      max: 127,
      shownFrom: TEMPO_FROM,
    }),
  ],
  initial: {
    strips: Array.from({ length: MIXER_STRIPS }, () => ({ level: 100, pan: 64, muted: false, solo: false })),
    memories: memoryNames.map(() => null),
    current: null,
    fade: null,
    tempo: PLAIN_TEMPO,
    said: '',
  },
  receive(state, message, channel, atMs) {
    const tempo = hearTempo(state.tempo, message, atMs);
    if (tempo !== state.tempo) return retimed(state, tempo, atMs);
    if (message.kind === 'program')
      return message.channel === channel ? recall(mixerAt(state, atMs), message.program, atMs) : state;
    if (message.kind !== 'controller') return state;
    const { controller, value } = message;
    const strip = receiveStrip(mixerAt(state, atMs), message);
    if (strip) return strip;
    if (message.channel !== channel) return state;
    const now = mixerAt(state, atMs);
    if (controller === CC.capture) return value < MIX_MEMORIES ? capture(now, value) : state;
    if (controller === CC.tenths) return setTime(now, { amount: value / 10, unit: 's' });
    if (controller === CC.beats) return setTime(now, { amount: value, unit: 'beats' });
    if (controller === CC.tempo) return retimed(now, { ...now.tempo, bpm: TEMPO_FROM + value }, atMs);
    return state;
  },
};

/** The mixer as it is at a time: on the way between two mixes, or exactly at the later one. */
export function mixerAt(state: MixerState, atMs: number): MixerState {
  const { fade } = state;
  if (!fade) return state;
  const share = shareAt(fade, atMs);
  if (share >= 1) return { ...state, strips: fade.to, fade: null };
  const strips = fade.to.map((to, i): Strip => {
    const from = nth(fade.from, i);
    return {
      ...to,
      level: from.level + (to.level - from.level) * share,
      pan: from.pan + (to.pan - from.pan) * share,
    };
  });
  return { ...state, strips };
}

const durationMs = ({ time, bpm }: MixFade): number =>
  time.amount * (time.unit === 's' ? 1000 : 60_000 / bpm);

/** How far a fade has come, 0–1. */
export function shareAt(fade: MixFade, atMs: number): number {
  const ms = durationMs(fade);
  return ms === 0 ? 1 : Math.min(1, fade.share + (atMs - fade.sinceMs) / ms);
}

/** A new tempo holds for the rest of a fade in beats. */
function retimed(state: MixerState, tempo: ClockTempo, atMs: number): MixerState {
  const { fade } = state;
  if (!fade || fade.bpm === tempo.bpm) return { ...state, tempo };
  return { ...state, tempo, fade: { ...fade, bpm: tempo.bpm, share: shareAt(fade, atMs), sinceMs: atMs } };
}

/** A strip that is moved by hand is no longer on its way. */
function receiveStrip(state: MixerState, message: Message & { kind: 'controller' }): MixerState | null {
  const { controller, value, channel } = message;
  const part: Partial<Strip> | null =
    controller === CC.level
      ? { level: value }
      : controller === CC.pan
        ? { pan: value }
        : controller === CC.mute
          ? { muted: value >= 64 }
          : controller === CC.solo
            ? { solo: value >= 64 }
            : null;
  if (!part) return null;
  const moved = { ...there(state.strips[channel]), ...part };
  const { fade } = state;
  return {
    ...state,
    strips: withAt(state.strips, channel, moved),
    fade: fade && {
      ...fade,
      from: withAt(fade.from, channel, { ...moved }),
      to: withAt(fade.to, channel, { ...there(fade.to[channel]), ...part }),
    },
  };
}

function capture(state: MixerState, index: number): MixerState {
  const time = state.memories[index]?.time ?? { amount: 0, unit: 's' as const };
  const strips = state.strips.map((s) => ({ ...s, level: Math.round(s.level), pan: Math.round(s.pan) }));
  return {
    ...state,
    memories: withAt(state.memories, index, { strips, time }),
    current: index,
    said: `mix ${index + 1} captured`,
  };
}

function setTime(state: MixerState, time: MixMemory['time']): MixerState {
  const memory = state.current === null ? null : state.memories[state.current];
  if (state.current === null || !memory)
    return { ...state, said: 'no mix is chosen: capture or recall one first' };
  return {
    ...state,
    memories: withAt(state.memories, state.current, { ...memory, time }),
    said: `going to mix ${state.current + 1} takes ${timeWords(time, state.tempo.bpm)}`,
  };
}

/** Example: `2.5 s`, `4 beats at its own 100 bpm`. */
const timeWords = ({ amount, unit }: MixMemory['time'], bpm: number): string =>
  unit === 's' ? `${amount} s` : `${amount} ${amount === 1 ? 'beat' : 'beats'} at its own ${bpm} bpm`;

/** Goes to a memory in the time that belongs to it, from wherever the strips are now. */
function recall(state: MixerState, index: number, atMs: number): MixerState {
  const memory = state.memories[index];
  if (!memory) return { ...state, said: `mix ${index + 1} is empty: nothing to recall` };
  const fade: MixFade = {
    from: state.strips,
    to: memory.strips,
    time: memory.time,
    sinceMs: atMs,
    share: 0,
    bpm: state.tempo.bpm,
  };
  const going = {
    ...state,
    current: index,
    fade,
    said: `mix ${index + 1} recalled, in ${timeWords(memory.time, state.tempo.bpm)}`,
  };
  return mixerAt(going, atMs);
}
