import { PLAIN_FUNCTION } from '../../gear';
import { controllerRow, rangeShape, type StandIn } from '../standIn';
import { nth } from '../../sure';

/** A song that plays: which, from 0, and since when. */
export type BackingSong = { readonly song: number; readonly sinceMs: number };

/** Plays finished tracks in an order. Levels, filters, reverb and crossfade 0–127. */
export type BackingPlayerState = {
  /** The song that a start begins with, from 0. */
  readonly cued: number;
  /** `null` while it waits. */
  readonly playing: BackingSong | null;
  /** From the song that plays (0) to the one that is cued (127). */
  readonly crossfade: number;
  readonly lowFilter: number;
  readonly highFilter: number;
  readonly reverb: number;
  readonly level: number;
  readonly said: string;
};

/** Length of each song in s. Invented gear, invented songs. */
export const BACKING_LENGTHS_S: readonly number[] = [
  182, 204, 171, 240, 198, 215, 226, 189, 232, 176, 260, 205,
];
/** Song k of the order is called by program base + k − 1; here the base is 0. Common practice, no source. */
export const PROGRAM_BASE = 0;

const CC = { level: 7, crossfade: 8, start: 20, stop: 21, next: 22, high: 71, low: 74, reverb: 91 } as const;

const trigger = (name: string, number: number) => controllerRow(name, number, { kind: 'trigger', sent: 127 });

export const backingPlayer: StandIn<BackingPlayerState> = {
  title: 'Backing player',
  chart: [
    {
      name: 'Song',
      drive: { kind: 'program', bank: null },
      shape: {
        kind: 'program',
        names: BACKING_LENGTHS_S.map((_, i) => ({ program: PROGRAM_BASE + i, name: `Song ${i + 1}` })),
      },
      ...PLAIN_FUNCTION,
    },
    trigger('Start', CC.start),
    trigger('Stop', CC.stop),
    trigger('Next', CC.next),
    controllerRow('Level', CC.level, rangeShape),
    controllerRow('Crossfade', CC.crossfade, rangeShape),
    controllerRow('Low filter', CC.low, rangeShape),
    controllerRow('High filter', CC.high, rangeShape),
    controllerRow('Reverb', CC.reverb, rangeShape),
  ],
  initial: {
    cued: 0,
    playing: null,
    crossfade: 0,
    lowFilter: 127,
    highFilter: 0,
    reverb: 0,
    level: 100,
    said: '',
  },
  receive(before, message, channel, atMs) {
    if (!('channel' in message) || message.channel !== channel) return before;
    const state = backingAt(before, atMs);
    if (message.kind === 'program') {
      const song = message.program - PROGRAM_BASE;
      return song >= 0 && song < BACKING_LENGTHS_S.length
        ? { ...state, cued: song, said: `song ${song + 1} is cued` }
        : {
            ...state,
            said: `there is no song for program ${message.program}: the order has ${BACKING_LENGTHS_S.length}`,
          };
    }
    if (message.kind !== 'controller') return before;
    const { controller, value } = message;
    const isPress = value >= 64;
    switch (controller) {
      case CC.level:
        return { ...state, level: value };
      case CC.crossfade:
        return { ...state, crossfade: value };
      case CC.low:
        return { ...state, lowFilter: value };
      case CC.high:
        return { ...state, highFilter: value };
      case CC.reverb:
        return { ...state, reverb: value };
      case CC.start:
        return isPress ? start(state, atMs) : before;
      case CC.stop:
        if (!isPress) return before;
        return state.playing
          ? { ...state, playing: null, said: 'stopped' }
          : { ...state, said: 'nothing plays, so nothing stops' };
      case CC.next:
        return isPress ? goOn(state, atMs) : before;
      default:
        return before;
    }
  },
};

/** The player as it is at a time: a song that is over leaves it waiting, with the one behind it cued. */
export function backingAt(state: BackingPlayerState, atMs: number): BackingPlayerState {
  const { playing } = state;
  if (!playing || atMs - playing.sinceMs < nth(BACKING_LENGTHS_S, playing.song) * 1000) return state;
  const cued = Math.min(playing.song + 1, BACKING_LENGTHS_S.length - 1);
  return { ...state, playing: null, cued, said: `song ${playing.song + 1} is over; it waits` };
}

function start(state: BackingPlayerState, atMs: number): BackingPlayerState {
  if (state.playing?.song === state.cued) return { ...state, said: `song ${state.cued + 1} plays already` };
  return {
    ...state,
    playing: { song: state.cued, sinceMs: atMs },
    crossfade: 0,
    said: `song ${state.cued + 1} plays`,
  };
}

/** The next thing: while it waits the next song is cued, while it plays the next one begins. */
function goOn(state: BackingPlayerState, atMs: number): BackingPlayerState {
  const from = state.playing ? state.playing.song : state.cued;
  if (from + 1 >= BACKING_LENGTHS_S.length) return { ...state, said: 'that was the last song of the order' };
  const cued = from + 1;
  return state.playing
    ? start({ ...state, cued }, atMs)
    : { ...state, cued, said: `song ${cued + 1} is cued` };
}

/** How loud the song that plays and the cued one are, 0–1 each: equal power between them, under the level. */
export function backingGains({ playing, crossfade, level }: BackingPlayerState): readonly [number, number] {
  if (!playing) return [0, 0];
  const angle = ((crossfade / 127) * Math.PI) / 2;
  return [(Math.cos(angle) * level) / 127, (Math.sin(angle) * level) / 127];
}
