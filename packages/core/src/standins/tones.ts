import { backingGains } from './gear/backingPlayer';
import { looperAt, loopPosition } from './gear/looper';
import { mixerAt } from './gear/mixer';
import { FIRST_PAD, padsAt } from './gear/padInstrument';
import { noteFrequencyHz } from '../midi';
import type { StandInState } from './standInState';
import { tracksSounding } from './gear/trackHost';
import { nth } from '../sure';

/** One plain tone of a stand-in. `gain` 0–1, `pan` −1 to 1, `brightHz` where its low-pass lies, `wet` 0–1. */
export type Tone = {
  readonly id: string;
  readonly frequencyHz: number;
  readonly gain: number;
  readonly pan: number;
  readonly brightHz: number;
  readonly wet: number;
};

const OPEN_HZ = 8000;
const plain = { pan: 0, brightHz: OPEN_HZ, wet: 0 } as const;

/** A filter from closed to open, in steps that sound even: 120 Hz at 0, 8 kHz at 127. */
export const filterHz = (value: number): number => 120 * (OPEN_HZ / 120) ** (value / 127);

/**
 * What a stand-in would sound like at a time, as plain tones: enough to hear a sweep, a crossfade, two armed tracks.
 * Silent tones are left out.
 */
export function tonesOf(standIn: StandInState, atMs: number): readonly Tone[] {
  return tones(standIn, atMs).filter((t) => t.gain > 0);
}

type Kind = StandInState['kind'];
type StateOf<K extends Kind> = Extract<StandInState, { kind: K }>['state'];

/** The tones of each kind, silent ones too. */
const TONES: { readonly [K in Kind]: { of(state: StateOf<K>, atMs: number): Tone[] }['of'] } = {
  'string-processor'(state) {
    const { volume, drive, reverbMix, blocks } = state;
    return [
      {
        id: 'string',
        frequencyHz: noteFrequencyHz(43),
        gain: volume / 127,
        pan: 0,
        brightHz: filterHz(50 + drive * 0.6),
        wet: reverbMix / 127,
      },
      // Each block that is on adds a partial.
      ...blocks.flatMap((on, i) =>
        on
          ? [
              {
                id: `block ${i}`,
                frequencyHz: noteFrequencyHz(43) * (i + 2),
                gain: volume / 127 / (i + 4),
                ...plain,
              },
            ]
          : [],
      ),
    ];
  },
  'track-host'(state) {
    return state.notes.flatMap(({ channel, note }) =>
      tracksSounding(state, channel).map((i) => ({
        id: `track ${i} note ${note} ${channel}`,
        // Each track is a little out of tune with the others, so that two of them are heard as two.
        frequencyHz: noteFrequencyHz(note) * (1 + i * 0.004),
        gain: (nth(state.tracks, i).level / 127) * 0.6,
        ...plain,
        pan: (i - 3.5) / 5,
      })),
    );
  },
  looper(state, atMs) {
    return looperAt(state, atMs).tracks.flatMap((track, i) => {
      const at = loopPosition(track, atMs);
      if (at === null || !track.loop) return [];
      const intoMs = at * track.loop.lengthMs;
      const isFull = track.loop.content.some((s) => intoMs >= s.fromMs && intoMs < s.toMs);
      return [
        { id: `loop ${i}`, frequencyHz: noteFrequencyHz(55 + i * 5), gain: isFull ? 0.5 : 0, ...plain },
      ];
    });
  },
  mixer(state, atMs) {
    const { strips } = mixerAt(state, atMs);
    const anySolo = strips.some((s) => s.solo);
    return strips.slice(0, 4).map(({ level, pan, muted, solo }, i) => ({
      id: `strip ${i}`,
      frequencyHz: noteFrequencyHz(48 + nth([0, 7, 12, 16], i)),
      gain: muted || (anySolo && !solo) ? 0 : (level / 127) * 0.4,
      ...plain,
      pan: (pan - 64) / 64,
    }));
  },
  'pad-instrument'(state, atMs) {
    return padsAt(state, atMs).map((velocity, i) => ({
      id: `pad ${i}`,
      frequencyHz: noteFrequencyHz(FIRST_PAD + i + 12),
      gain: (velocity / 127) * (state.level / 127),
      pan: 0,
      brightHz: filterHz(Math.min(127, state.cutoff + state.pressure * 0.3)),
      wet: 0,
    }));
  },
  'backing-player'(state) {
    const [now, next] = backingGains(state);
    const shared = { pan: 0, brightHz: filterHz(state.lowFilter), wet: state.reverb / 127 };
    return [
      {
        id: 'song',
        frequencyHz: noteFrequencyHz(50 + (state.playing?.song ?? 0)),
        gain: now * 0.6,
        ...shared,
      },
      { id: 'cued', frequencyHz: noteFrequencyHz(62 + state.cued), gain: next * 0.6, ...shared },
    ];
  },
  lights: () => [],
};

function tones<K extends Kind>(
  { kind, state }: { readonly kind: K; readonly state: StateOf<K> },
  atMs: number,
): Tone[] {
  return TONES[kind](state, atMs);
}
