import { PLAIN_FUNCTION } from '../gear';
import type { Message } from '../midi';
import { controllerRow, rangeShape, switchShape, withAt, type StandIn } from './standIn';

/** A processor for a bowed or plucked string. Programs 0–127, snapshots 0–7, knobs 0–127. */
export type StringProcessorState = {
  readonly program: number;
  readonly snapshot: number;
  readonly blocks: readonly boolean[];
  readonly volume: number;
  readonly drive: number;
  readonly reverbMix: number;
  /** Until then everything sent to it is lost. */
  readonly deafUntilMs: number;
  /** Messages lost while it was deaf. */
  readonly missed: number;
};

export const PROCESSOR_BLOCKS = ['Gate', 'Drive', 'Chorus', 'Delay', 'Echo', 'Reverb'] as const;
const SNAPSHOTS = ['Dry', 'Body', 'Full', 'Air', 'Octave', 'Swirl', 'Grain', 'Lead'] as const;

/** How long loading a program takes, in ms. Invented gear, invented figure. */
export const PROCESSOR_SETTLE_MS = 42;

const CC = { snapshot: 22, firstBlock: 23, volume: 7, drive: 20, reverbMix: 91 } as const;

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
    ...PROCESSOR_BLOCKS.map((name, i) => controllerRow(name, CC.firstBlock + i, switchShape)),
    controllerRow('Volume', CC.volume, rangeShape),
    controllerRow('Drive amount', CC.drive, rangeShape),
    controllerRow('Reverb mix', CC.reverbMix, rangeShape),
  ],
  initial: {
    program: 0,
    snapshot: 0,
    blocks: PROCESSOR_BLOCKS.map(() => false),
    volume: 100,
    drive: 0,
    reverbMix: 0,
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
  if (controller === CC.snapshot) return value < SNAPSHOTS.length ? { ...state, snapshot: value } : state;
  if (controller === CC.volume) return { ...state, volume: value };
  if (controller === CC.drive) return { ...state, drive: value };
  if (controller === CC.reverbMix) return { ...state, reverbMix: value };
  const block = controller - CC.firstBlock;
  if (block < 0 || block >= PROCESSOR_BLOCKS.length) return state;
  return { ...state, blocks: withAt(state.blocks, block, value >= 64) };
}
