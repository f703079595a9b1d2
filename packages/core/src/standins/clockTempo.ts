import type { Message } from '../midi';

/** A tempo read from MIDI clock, or told. */
export type ClockTempo = { readonly bpm: number; readonly clocks: number; readonly sinceMs: number };

export const PLAIN_TEMPO: ClockTempo = { bpm: 120, clocks: 0, sinceMs: 0 };

/** Clocks to a quarter note. Source: MIDI 1.0 Detailed Specification, "Timing Clock". */
const CLOCKS_A_BEAT = 24;

/** Takes one message: a beat of clocks sets the tempo. The same object comes back for anything else. */
export function hearTempo(tempo: ClockTempo, message: Message, atMs: number): ClockTempo {
  if (message.kind !== 'clock') return tempo;
  if (tempo.clocks === 0) return { ...tempo, clocks: 1, sinceMs: atMs };
  if (tempo.clocks < CLOCKS_A_BEAT) return { ...tempo, clocks: tempo.clocks + 1 };
  const bpm = Math.round((60_000 / Math.max(1, atMs - tempo.sinceMs)) * 100) / 100;
  return { bpm, clocks: 1, sinceMs: atMs };
}

/** A bar of 4/4 in ms. Example: 2500 at 96 bpm. */
export const barMs = (bpm: number): number => (4 * 60_000) / bpm;
