import type { Rig, TapeMark } from '../../gear';
import type { RelativeEncoding } from '../travel/encoder';
import type { ActionListName } from '../gestures/gesture';

/** A controller as it lies on the floor. Positions and sizes in mm, from the upper left of the board. */
export type Board = {
  readonly id: string;
  /** The controller device that this board is the face of. */
  readonly deviceId: string;
  /** The preset in force on this board, or none yet. */
  readonly presetId: string | null;
  readonly widthMm: number;
  readonly heightMm: number;
  /** Where it lies before the feet: left edge and upper edge on the floor, mm. */
  readonly xMm: number;
  readonly yMm: number;
  /** Hosted: this application plays it. Standalone: its own program does, and was only prepared here. */
  readonly mode: 'hosted' | 'standalone';
  /** There is no hardware: it is pressed on a screen only. */
  readonly isOnScreen: boolean;
  /** The bank that comes into force when a song begins. */
  readonly bankFollows: BankFollows;
  readonly can: BoardLimits;
  /** How it is brought to take a memory that is sent to it, step by step. */
  readonly receiveSteps: readonly string[];
  readonly controls: readonly Control[];
};

/** Nothing, the song by its name, or by its number in the running order: its bank is the one so called, or at that place. */
export const BANK_FOLLOWS = ['nothing', 'song-name', 'song-number'] as const;
export type BankFollows = (typeof BANK_FOLLOWS)[number];

/** What a message of an action may be, for hardware that cannot send every kind. */
export const SENT_KINDS = ['note', 'controller', 'program', 'sysex', 'clock'] as const;
export type SentKind = (typeof SENT_KINDS)[number];

/** What a board's own program can do; `null` is as much as one likes. */
export type BoardLimits = {
  readonly banks: number | null;
  /** Actions of one gesture. */
  readonly actions: number | null;
  readonly gestures: readonly ActionListName[];
  readonly messages: readonly SentKind[];
};

export const CONTROL_KINDS = [
  'footswitch',
  'button',
  'pad',
  'key',
  'expression-pedal',
  'fader',
  'knob',
  'strip',
  'encoder',
] as const;
export type ControlKind = (typeof CONTROL_KINDS)[number];

const PRESSED: ReadonlySet<ControlKind> = new Set(['footswitch', 'button', 'pad', 'key']);

/** Whether a control is pressed and let go; the others are moved. */
export const isPressed = (kind: ControlKind): boolean => PRESSED.has(kind);

/** Whether a control can be struck harder and softer. */
export const isStruck = (kind: ControlKind): boolean => kind === 'pad' || kind === 'key';

export type Control = {
  readonly id: string;
  /** Where it is, in words. Example: `far 3`. */
  readonly name: string;
  readonly kind: ControlKind;
  readonly xMm: number;
  readonly yMm: number;
  readonly widthMm: number;
  readonly heightMm: number;
  /** What the hardware sends: 127 down and 0 up, or where it stands. */
  readonly sends: ControlMessage;
  /** 0–15 where it sends on a channel of its own, else `null`: the board's. */
  readonly channel: number | null;
  readonly hardware: Hardware;
};

export const CONTROL_MESSAGES = [
  'controller',
  'note',
  'program',
  'controller-14',
  'rpn',
  'nrpn',
  'pitch-bend',
  'channel-pressure',
  'key',
] as const;

/**
 * `number` 0–127, coarse halves 0–31, parameters 0–16382; 0 for kinds that have none. A `key` is one of the computer's,
 * by its usage number: see `keyName`.
 */
export type ControlMessage = {
  readonly kind: (typeof CONTROL_MESSAGES)[number];
  readonly number: number;
};

/** How a control is built, as far as it matters for what its messages mean. */
export type Hardware = {
  /** A latching switch sends alternately at each press; it is late and can neither hold nor double press. */
  readonly switching: 'momentary' | 'latching';
  /** Which movement of a switch is heard: both, or one only. */
  readonly edge: 'both' | 'down' | 'up';
  /** Changes that come sooner than this after the last one are contacts that bounce, 0–50 ms. */
  readonly debounceMs: number;
  /** Where heel and toe really stand, 0–127, the heel first. */
  readonly heel: number;
  readonly toe: number;
  /** How much of the travel at each end counts as that end, 0–20 %. */
  readonly deadZone: number;
  /** Movements of less than this are trembling, 0–16 of 127. */
  readonly jitter: number;
  readonly encoding: 'absolute' | RelativeEncoding;
  /** Values that light the lamp, or `null` where it has none that messages reach. 0–127 each. */
  readonly lamp: {
    readonly off: number;
    readonly on: number;
    readonly blink: number | null;
    /** What is sent for a colour, 0–127, where the lamp has several. */
    readonly colours?: Readonly<Partial<Record<TapeMark['colour'], number>>> | undefined;
  } | null;
};

/** Hardware of which nothing is known yet: momentary, both edges, whole travel. */
export const PLAIN_HARDWARE: Hardware = {
  switching: 'momentary',
  edge: 'both',
  debounceMs: 0,
  heel: 0,
  toe: 127,
  deadZone: 0,
  jitter: 0,
  encoding: 'absolute',
  lamp: null,
};

export const PLAIN_CONTROL = { channel: null, hardware: PLAIN_HARDWARE } as const satisfies Partial<Control>;

export const PLAIN_BOARD = {
  mode: 'hosted',
  isOnScreen: false,
  bankFollows: 'nothing',
  can: {
    banks: null,
    actions: null,
    gestures: ['press', 'release', 'hold', 'doublePress', 'toe', 'heel'],
    messages: [...SENT_KINDS],
  },
  receiveSteps: [],
} as const satisfies Partial<Board>;

/** Why a switch can do neither hold nor double press nor release, or `null` when it can. */
export const onlyTaps = ({ sends, hardware }: Pick<Control, 'sends' | 'hardware'>): boolean =>
  sends.kind === 'program' || hardware.switching === 'latching' || hardware.edge !== 'both';

/** A rig together with its boards: what is written down in the place Rig and kept as one. */
export type RigWithBoards = Rig & { readonly boards: readonly Board[] };
