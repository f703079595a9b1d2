import { PLAIN_FUNCTION } from '../../gear';
import type { Message } from '../../midi';
import { controllerRow, rangeShape, switchShape, withAt, type StandIn } from '../standIn';

/** A processor for a bowed or plucked string. Programs 0–127, snapshots 0–7, knobs 0–127. */
export type StringProcessorState = {
  readonly program: number;
  readonly snapshot: number;
  readonly blocks: readonly boolean[];
  readonly volume: number;
  readonly drive: number;
  readonly reverbMix: number;
  /** Its further knobs, in the order of `PROCESSOR_KNOBS`. */
  readonly knobs: readonly number[];
  /** It keeps the numbers of its front panel for itself: what is sent by them is refused. */
  readonly keepsPanel: boolean;
  /** The knobs of its front panel. */
  readonly panel: readonly number[];
  /** What it refused last, or empty. */
  readonly said: string;
  /** Until then everything sent to it is lost. */
  readonly deafUntilMs: number;
  /** Messages lost while it was deaf. */
  readonly missed: number;
};

export const PROCESSOR_BLOCKS = [
  'Gate',
  'Drive',
  'Chorus',
  'Delay',
  'Echo',
  'Reverb',
  'Octaver',
  'Tremolo',
] as const;
/** Knobs beside volume, drive and reverb mix. */
export const PROCESSOR_KNOBS = [
  'Input',
  'Tone',
  'Depth',
  'Rate',
  'Time',
  'Feedback',
  'Width',
  'Bass',
  'Treble',
] as const;
/** Knobs on the front panel, whose numbers it keeps for itself until it is told not to. */
export const PANEL_KNOBS = 3;
const SNAPSHOTS = ['Dry', 'Body', 'Full', 'Air', 'Octave', 'Swirl', 'Grain', 'Lead'] as const;

/** How long loading a program takes, in ms. Invented gear, invented figure. */
export const PROCESSOR_SETTLE_MS = 42;

const CC = {
  snapshot: 22,
  firstBlock: 23,
  volume: 7,
  drive: 20,
  reverbMix: 91,
  firstKnob: 70,
  pedals: [4, 11],
  firstPanel: 102,
  keepsPanel: 119,
} as const;
const FIRST_BLOCKS = 6;

export const stringProcessor: StandIn<StringProcessorState> = {
  title: 'String processor',
  chart: [
    {
      name: 'Program',
      drive: { kind: 'program', bank: null },
      shape: { kind: 'program', names: [] },
      ...PLAIN_FUNCTION,
      settleMs: PROCESSOR_SETTLE_MS,
    },
    controllerRow('Snapshot', CC.snapshot, { kind: 'choice', first: 0, shownFrom: 1, labels: SNAPSHOTS }),
    ...PROCESSOR_BLOCKS.slice(0, FIRST_BLOCKS).map((name, i) =>
      controllerRow(name, CC.firstBlock + i, switchShape),
    ),
    controllerRow('Volume', CC.volume, rangeShape),
    controllerRow('Drive amount', CC.drive, rangeShape),
    controllerRow('Reverb mix', CC.reverbMix, rangeShape),
    // Rows that came later stand last, so that the others keep their places.
    ...PROCESSOR_BLOCKS.slice(FIRST_BLOCKS).map((name, i) =>
      controllerRow(name, CC.firstBlock + FIRST_BLOCKS + i, switchShape),
    ),
    ...PROCESSOR_KNOBS.map((name, i) => controllerRow(name, CC.firstKnob + i, rangeShape)),
    ...CC.pedals.map((number, i) => controllerRow(`Pedal input ${i + 1}`, number, rangeShape)),
    controllerRow('Panel numbers kept', CC.keepsPanel, switchShape),
  ],
  initial: {
    program: 0,
    snapshot: 0,
    blocks: PROCESSOR_BLOCKS.map(() => false),
    volume: 100,
    drive: 0,
    reverbMix: 0,
    knobs: PROCESSOR_KNOBS.map(() => 64),
    keepsPanel: true,
    panel: Array.from({ length: PANEL_KNOBS }, () => 64),
    said: '',
    deafUntilMs: 0,
    missed: 0,
  },
  receive(state, message, channel, atMs) {
    if (!('channel' in message) || message.channel !== channel) return state;
    if (atMs < state.deafUntilMs) return { ...state, missed: state.missed + 1 };
    if (message.kind === 'program') return loadProgram(state, message.program, atMs);
    return message.kind === 'controller' ? receiveController(state, message) : state;
  },
};

/** A program brings its own snapshot, blocks and knobs; the volume pedal stays where it is. */
function loadProgram(state: StringProcessorState, program: number, atMs: number): StringProcessorState {
  return {
    ...state,
    program,
    snapshot: 0,
    blocks: state.blocks.map((_, i) => (program >> i) % 2 === 1),
    drive: 0,
    reverbMix: 0,
    deafUntilMs: atMs + PROCESSOR_SETTLE_MS,
  };
}

function receiveController(
  state: StringProcessorState,
  message: Message & { kind: 'controller' },
): StringProcessorState {
  const { controller, value } = message;
  if (controller === CC.snapshot)
    return value < SNAPSHOTS.length
      ? { ...state, snapshot: value, said: '' }
      : { ...state, said: `there is no snapshot for ${value}: it has ${SNAPSHOTS.length}` };
  // A pedal plugged into it moves what its own foot would: the volume, and the reverb.
  if (controller === CC.volume || controller === CC.pedals[0]) return { ...state, volume: value };
  if (controller === CC.drive) return { ...state, drive: value };
  if (controller === CC.reverbMix || controller === CC.pedals[1]) return { ...state, reverbMix: value };
  if (controller === CC.keepsPanel) return { ...state, keepsPanel: value >= 64, said: '' };
  const knob = controller - CC.firstKnob;
  if (knob >= 0 && knob < PROCESSOR_KNOBS.length)
    return { ...state, knobs: withAt(state.knobs, knob, value) };
  const panel = controller - CC.firstPanel;
  if (panel >= 0 && panel < PANEL_KNOBS)
    return state.keepsPanel
      ? { ...state, said: `controller ${controller} is kept for the front panel` }
      : { ...state, panel: withAt(state.panel, panel, value), said: '' };
  const block = controller - CC.firstBlock;
  if (block < 0 || block >= PROCESSOR_BLOCKS.length) return state;
  return { ...state, blocks: withAt(state.blocks, block, value >= 64) };
}
