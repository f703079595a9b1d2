import type { LinkKind, MiddleC } from '../midi';
import type { ChartFunction } from './chartFunction';

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

export const STAND_IN_KINDS = ['string-processor', 'track-host'] as const;
/** Simulated gear that can take the place of the real device. */
export type StandInKind = (typeof STAND_IN_KINDS)[number];

export type Port = {
  readonly id: string;
  readonly name: string;
  readonly direction: 'in' | 'out' | 'thru';
  readonly link: LinkKind;
  /** Whether this port is reached directly from the computer that Idle Step runs on. */
  readonly atComputer: boolean;
};

export type Cable = { readonly id: string; readonly fromPortId: string; readonly toPortId: string };

export type Device = {
  readonly id: string;
  readonly name: string;
  readonly description: string;
  readonly role: DeviceRole;
  readonly mark: TapeMark;
  /** 0–15. */
  readonly channel: number;
  /** What the device's own display calls its first program. */
  readonly programsShownFrom: 0 | 1;
  readonly standIn: StandInKind | null;
  /** Packed away: written down, but not there this evening. */
  readonly away: boolean;
  readonly ports: readonly Port[];
  readonly chart: readonly ChartFunction[];
};

/** All devices, ports, cables and charts together. */
export type Rig = {
  readonly id: string;
  readonly name: string;
  readonly middleC: MiddleC;
  readonly devices: readonly Device[];
  readonly cables: readonly Cable[];
};
