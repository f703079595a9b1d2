import { tonesOf, type StandInState, type Tone } from '@idle-step/core/standins';
import { liveNow } from '../liveTime';
import { there } from '@idle-step/core/sure';

type Voice = {
  readonly oscillator: OscillatorNode;
  readonly filter: BiquadFilterNode;
  readonly gain: GainNode;
  readonly pan: StereoPannerNode;
  readonly wet: GainNode;
};

/** How fast a tone follows what it is told, in s: fast enough for a sweep, slow enough not to click. */
const FOLLOW_S = 0.02;
/** Everything together, so that eight stand-ins do not overload. */
const MASTER = 0.12;
/** Delay of the simple room that wet tones are sent to, in s. */
const ROOM_S = 0.19;

/** Lets the stand-ins be heard, as plain tones, while it is on. */
export class StandInSound {
  private context: AudioContext | null = null;
  private room: AudioNode | null = null;
  private out: AudioNode | null = null;
  private readonly voices = new Map<string, Voice>();
  private timer = 0;

  constructor(private readonly standIns: () => ReadonlyMap<string, StandInState>) {}

  get isOn(): boolean {
    return this.context !== null;
  }

  /** Tones that sound at this moment. */
  get sounding(): number {
    return this.voices.size;
  }

  start(): void {
    if (this.context) return;
    const context = new AudioContext();
    const out = new GainNode(context, { gain: MASTER });
    out.connect(context.destination);
    const room = new DelayNode(context, { delayTime: ROOM_S });
    const again = new GainNode(context, { gain: 0.55 });
    room.connect(again).connect(room);
    again.connect(out);
    this.context = context;
    this.out = out;
    this.room = room;
    this.timer = window.setInterval(() => this.follow(), 25);
  }

  stop(): void {
    window.clearInterval(this.timer);
    this.voices.clear();
    void this.context?.close();
    this.context = null;
  }

  private follow(): void {
    const { context } = this;
    if (!context) return;
    const wanted = new Map<string, Tone>();
    for (const [deviceId, standIn] of this.standIns())
      for (const tone of tonesOf(standIn, liveNow())) wanted.set(`${deviceId} ${tone.id}`, tone);
    for (const [id, tone] of wanted) this.set(context, id, tone);
    for (const [id, voice] of this.voices) {
      if (wanted.has(id)) continue;
      voice.gain.gain.setTargetAtTime(0, context.currentTime, FOLLOW_S);
      voice.oscillator.stop(context.currentTime + FOLLOW_S * 8);
      this.voices.delete(id);
    }
  }

  private set(context: AudioContext, id: string, tone: Tone): void {
    let voice = this.voices.get(id);
    if (!voice) {
      const oscillator = new OscillatorNode(context, { type: 'triangle', frequency: tone.frequencyHz });
      const filter = new BiquadFilterNode(context, { type: 'lowpass', frequency: tone.brightHz });
      const gain = new GainNode(context, { gain: 0 });
      const pan = new StereoPannerNode(context, { pan: tone.pan });
      const wet = new GainNode(context, { gain: 0 });
      oscillator.connect(filter).connect(gain).connect(pan).connect(there(this.out));
      gain.connect(wet).connect(there(this.room));
      oscillator.start();
      voice = { oscillator, filter, gain, pan, wet };
      this.voices.set(id, voice);
    }
    const now = context.currentTime;
    voice.oscillator.frequency.setTargetAtTime(tone.frequencyHz, now, FOLLOW_S);
    voice.filter.frequency.setTargetAtTime(tone.brightHz, now, FOLLOW_S);
    voice.gain.gain.setTargetAtTime(tone.gain, now, FOLLOW_S);
    voice.pan.pan.setTargetAtTime(tone.pan, now, FOLLOW_S);
    voice.wet.gain.setTargetAtTime(tone.wet, now, FOLLOW_S);
  }
}
