import { beatMsOf, type Tempo } from '@idle-step/core/engine';
import { liveNow, realMs } from '../liveTime';

/** Clicks are handed to the sound system this far ahead, in ms. */
const AHEAD_MS = 120;
const EVERY_MS = 30;
/** A beat that is this late, in ms, is still heard. */
const LATE_MS = 60;
/** A click of the first beat of a bar and of the others, in Hz. */
const CLICK_HZ = { first: 1600, other: 1000 } as const;
const CLICK_S = 0.03;

/** A click at each beat of the tempo in play. */
export class Metronome {
  private context: AudioContext | null = null;
  private timer = 0;
  private beats = Infinity;
  private doneBeat = -1;
  private doneOrigin = NaN;

  constructor(private readonly tempo: () => Tempo) {}

  get isOn(): boolean {
    return this.timer !== 0;
  }

  /** Has the sound system ready, so that the first click comes in time. */
  prepare(): void {
    this.context ??= new AudioContext();
  }

  /** @param beats how many are clicked from the first beat of the tempo on. */
  start(beats = Infinity): void {
    if (this.isOn) return;
    this.prepare();
    this.beats = beats;
    this.doneOrigin = NaN;
    this.timer = window.setInterval(() => this.look(), EVERY_MS);
    this.look();
  }

  stop(): void {
    window.clearInterval(this.timer);
    this.timer = 0;
  }

  /** Stops it for good. */
  close(): void {
    this.stop();
    void this.context?.close();
    this.context = null;
  }

  private look(): void {
    const { context } = this;
    if (!context) return;
    // A browser lets nothing sound until somebody has touched the page.
    if (context.state === 'suspended' && navigator.userActivation.hasBeenActive) void context.resume();
    const tempo = this.tempo();
    const { beatsPerBar, originMs } = tempo;
    const beatMs = beatMsOf(tempo);
    const now = liveNow();
    const counts = this.beats !== Infinity;
    if (originMs !== this.doneOrigin) {
      this.doneOrigin = originMs;
      this.doneBeat = counts ? -1 : Math.ceil((now - LATE_MS - originMs) / beatMs) - 1;
    }
    for (;;) {
      const next = this.doneBeat + 1;
      const inMs = realMs(originMs + next * beatMs - now);
      if (inMs > AHEAD_MS || next >= this.beats) return;
      this.doneBeat = next;
      // After a stall the beats that were missed are not made up for.
      // A count begins with its first beat, also where the page was busy with the song just then.
      const late = counts && next === 0 ? beatMs / 2 : LATE_MS;
      if (inMs < -late) continue;
      this.click(context, context.currentTime + Math.max(0, inMs) / 1000, next % beatsPerBar === 0);
    }
  }

  private click(context: AudioContext, atS: number, isFirst: boolean): void {
    const tone = new OscillatorNode(context, { frequency: isFirst ? CLICK_HZ.first : CLICK_HZ.other });
    const gain = new GainNode(context, { gain: 0 });
    gain.gain.setValueAtTime(0.3, atS);
    gain.gain.exponentialRampToValueAtTime(0.001, atS + CLICK_S);
    tone.connect(gain).connect(context.destination);
    tone.start(atS);
    tone.stop(atS + CLICK_S);
  }
}
