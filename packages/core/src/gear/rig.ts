import type { LinkKind, MiddleC } from '../midi';
import type { ChartFunction } from './charts/chartFunction';

export const TAPE_SHAPES = [
  'cross',
  'tee',
  'corner',
  'bar',
  'ring',
  'chevron',
  'dot',
  'triangle',
  'pair',
  'box',
] as const;
export const TAPE_COLOURS = ['coral', 'leaf', 'sky', 'sun', 'violet', 'clay', 'slate', 'teal'] as const;

/** The tape mark of a device. Two devices of a rig never share both shape and colour. */
export type TapeMark = {
  readonly shape: (typeof TAPE_SHAPES)[number];
  readonly colour: (typeof TAPE_COLOURS)[number];
};

export const DEVICE_ROLES = ['controller', 'receiver', 'carrier'] as const;
/** What a device does: send what feet do, answer, or only pass on. */
export type DeviceRole = (typeof DEVICE_ROLES)[number];

export const STAND_IN_KINDS = [
  'string-processor',
  'track-host',
  'looper',
  'mixer',
  'lights',
  'pad-instrument',
  'backing-player',
] as const;
/** Simulated gear that can take the place of the real device. */
export type StandInKind = (typeof STAND_IN_KINDS)[number];

export type Port = {
  readonly id: string;
  readonly name: string;
  readonly direction: 'in' | 'out' | 'thru';
  readonly link: LinkKind;
  /** For USB: whether this is the host side. Two device sides do not talk to each other. */
  readonly isUsbHost: boolean;
  /** Whether this port is reached directly from the computer that Idle Step runs on. */
  readonly atComputer: boolean;
  /** Enabled for playing: what arrives moves things, and what is sent leaves. */
  readonly plays: boolean;
  /** Enabled for learning: what arrives is listened to when something is learned or looked for. */
  readonly learns: boolean;
  /** An estimate of how long a Bluetooth or network link takes, in ms; 0 for every other link. */
  readonly latencyMs: number;
};

/** What a new port is like where nothing else was said. */
export const PLAIN_PORT = {
  isUsbHost: false,
  atComputer: false,
  plays: true,
  learns: true,
  latencyMs: 0,
} as const satisfies Partial<Port>;

/** Links whose time is not known but estimated, with the first estimate in ms. */
export const ESTIMATED_LATENCY_MS: Partial<Record<LinkKind, number>> = { bluetooth: 10, network: 5 };

export type Cable = { readonly id: string; readonly fromPortId: string; readonly toPortId: string };

/**
 * Which channels a device hears besides those that single functions name. `one` is its own; with `parts`, part n
 * (from 1) listens on its own channel + n − 1.
 */
export type Listening =
  | { readonly kind: 'one' }
  | { readonly kind: 'omni' }
  | { readonly kind: 'several'; readonly channels: readonly number[] }
  | { readonly kind: 'parts'; readonly count: number };

export const BANK_SELECT_HABITS = ['both', 'msb', 'lsb', 'none'] as const;
/** Which halves of bank select a device wants before a program change. */
export type BankSelectHabit = (typeof BANK_SELECT_HABITS)[number];

/** A channel with a meaning of its own, such as “the track selected now”. `channel` 0–15. */
export type ExtraChannel = { readonly name: string; readonly channel: number };

/** A setting of the device that changes what it answers to; `inForce` is one of its options. */
export type DeviceSetting = {
  readonly name: string;
  readonly options: readonly string[];
  readonly inForce: string;
};

/** One step that brings a device into the right mode before an evening. */
export type StartUpStep = { readonly id: string; readonly text: string; readonly done: boolean };

export type Device = {
  readonly id: string;
  readonly name: string;
  readonly description: string;
  /** Where it stands. */
  readonly place: string;
  readonly role: DeviceRole;
  readonly mark: TapeMark;
  /** 0–15. */
  readonly channel: number;
  readonly listens: Listening;
  readonly extraChannels: readonly ExtraChannel[];
  readonly bankSelect: BankSelectHabit;
  readonly setting: DeviceSetting | null;
  readonly startUp: readonly StartUpStep[];
  /** Controller numbers, 0–127, that it keeps for its own hardware, beside rows of its chart that say so. */
  readonly keptNumbers: readonly { readonly from: number; readonly to: number }[];
  /** What the device's own display calls its first program. */
  readonly programsShownFrom: 0 | 1;
  /** How its display counts programs where they are no plain numbers, see `parseProgramPattern`; else `null`. */
  readonly programPattern: string | null;
  /** Whether panic cuts its tails too: all sound off beside all notes off, after which it releases its notes itself. */
  readonly soundOffAtPanic: boolean;
  /** The bytes that ask it for a dump of its memory, as hexadecimal pairs; empty where none are known. */
  readonly dumpRequest: string;
  /** Who it says it is: maker, family and member as hexadecimal digits; empty where it was not asked. */
  readonly identity: string;
  readonly standIn: StandInKind | null;
  /** Packed away: written down, but not there this evening. */
  readonly away: boolean;
  readonly ports: readonly Port[];
  readonly chart: readonly ChartFunction[];
};

/** What a new device is like where nothing else was said. */
export const PLAIN_DEVICE = {
  description: '',
  place: '',
  channel: 0,
  listens: { kind: 'one' },
  extraChannels: [],
  bankSelect: 'both',
  setting: null,
  startUp: [],
  keptNumbers: [],
  programsShownFrom: 0,
  programPattern: null,
  soundOffAtPanic: true,
  dumpRequest: '',
  identity: '',
  standIn: null,
  away: false,
  ports: [],
  chart: [],
} as const satisfies Partial<Device>;

/** All devices, ports, cables and charts together. */
export type Rig = {
  readonly id: string;
  readonly name: string;
  readonly middleC: MiddleC;
  readonly devices: readonly Device[];
  readonly cables: readonly Cable[];
};
