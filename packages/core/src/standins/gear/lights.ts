import { PLAIN_FUNCTION } from '../../gear';
import { controllerRow, rangeShape, switchShape, withAt, type StandIn } from '../standIn';

/** Twelve dimmers with a master. All 0–127. */
export type LightsState = {
  readonly dimmers: readonly number[];
  readonly master: number;
  readonly isBlackout: boolean;
  /** The look or cue in force, `null` when dimmers were moved by hand. */
  readonly look: number | null;
};

export const DIMMERS = 12;
const CC = { master: 7, firstDimmer: 20, blackout: 80 } as const;
/** The first cue by note; there are as many cues as dimmers. */
const FIRST_CUE = 36;

const twelve = Array.from({ length: DIMMERS }, (_, i) => i);

export const lights: StandIn<LightsState> = {
  title: 'Lights',
  chart: [
    {
      name: 'Look',
      drive: { kind: 'program', bank: null },
      shape: { kind: 'program', names: [{ program: 0, name: 'Dark' }] },
      ...PLAIN_FUNCTION,
    },
    controllerRow('Master', CC.master, rangeShape),
    controllerRow('Blackout', CC.blackout, switchShape),
    ...twelve.map((i) => controllerRow(`Dimmer ${i + 1}`, CC.firstDimmer + i, rangeShape)),
    ...twelve.map((i) => ({
      name: `Cue ${i + 1}`,
      drive: { kind: 'note' as const, note: FIRST_CUE + i },
      shape: { kind: 'trigger' as const, sent: 127 },
      ...PLAIN_FUNCTION,
    })),
  ],
  initial: { dimmers: twelve.map(() => 0), master: 127, isBlackout: false, look: 0 },
  receive(state, message, channel) {
    if (!('channel' in message) || message.channel !== channel) return state;
    if (message.kind === 'program') return showLook(state, message.program);
    if (message.kind === 'note-on' && message.velocity > 0) {
      const cue = message.note - FIRST_CUE;
      return cue >= 0 && cue < DIMMERS ? showLook(state, cue + 1) : state;
    }
    if (message.kind !== 'controller') return state;
    const { controller, value } = message;
    if (controller === CC.master) return { ...state, master: value };
    if (controller === CC.blackout) return { ...state, isBlackout: value >= 64 };
    const dimmer = controller - CC.firstDimmer;
    if (dimmer < 0 || dimmer >= DIMMERS) return state;
    return { ...state, dimmers: withAt(state.dimmers, dimmer, value), look: null };
  },
};

/** What leaves a dimmer, 0–127: its own level under the master, nothing in a blackout. */
export const dimmed = ({ master, isBlackout }: LightsState, level: number): number =>
  isBlackout ? 0 : Math.round((level * master) / 127);

/** Look 0 is dark; each other one has a pattern of its own. Invented gear, invented patterns. */
const showLook = (state: LightsState, look: number): LightsState => ({
  ...state,
  look,
  dimmers: twelve.map((i) => (look === 0 ? 0 : (i + look) % 3 === 0 ? 127 : (i * look) % 4 === 1 ? 70 : 24)),
});
