import type { FullRig } from '@idle-step/core/routing';
import { type Device, PLAIN_DEVICE, PLAIN_PORT, TAPE_COLOURS, TAPE_SHAPES } from '@idle-step/core/gear';
import { freeName } from '../words/names';
import type { LinkKind } from '@idle-step/core/midi';
import { restingValue, STAND_INS } from '@idle-step/core/standins';
import { nth, there } from '@idle-step/core/sure';

/** Gear that can be added with one press, each with sensible values filled in; controllers are in `boardEdits`. */
export const DEVICE_KINDS = [
  { kind: 'interface', text: 'Interface, 2 in and 2 out' },
  { kind: 'usb-host', text: 'USB host, for gear without a computer' },
  { kind: 'splitter', text: 'Splitter, 1 in and 3 out' },
  { kind: 'string-processor', text: 'String processor, with its stand-in' },
  { kind: 'track-host', text: 'Track host, with its stand-in' },
  { kind: 'looper', text: 'Looper, with its stand-in' },
  { kind: 'mixer', text: 'Mixer, with its stand-in' },
  { kind: 'lights', text: 'Lights, with their stand-in' },
  { kind: 'pad-instrument', text: 'Pad instrument, with its stand-in' },
  { kind: 'backing-player', text: 'Backing player, with its stand-in' },
  { kind: 'receiver', text: 'Other gear that answers' },
] as const;
export type DeviceKind = (typeof DEVICE_KINDS)[number]['kind'];

const id = () => crypto.randomUUID();

/** The rig with one more device; its name, tape mark and channel are ones that no other device has. */
export function withNewDevice(rig: FullRig, kind: DeviceKind): { rig: FullRig; deviceId: string } {
  const device = makeDevice(rig, kind);
  return { rig: { ...rig, devices: [...rig.devices, device] }, deviceId: device.id };
}

function makeDevice(rig: FullRig, kind: DeviceKind): Device {
  const base = {
    ...PLAIN_DEVICE,
    id: id(),
    mark: freeMark(rig),
    channel: freeChannel(rig, CARRIERS.has(kind) ? 'carrier' : 'receiver'),
    programsShownFrom: 1 as const,
    description: there(there(DEVICE_KINDS.find((k) => k.kind === kind)).text.split(',')[0]),
  };
  const port = (
    name: string,
    direction: 'in' | 'out' | 'thru',
    link: LinkKind,
    atComputer: boolean,
    isUsbHost = false,
  ) => ({
    ...PLAIN_PORT,
    id: id(),
    name,
    direction,
    link,
    atComputer,
    isUsbHost,
  });
  switch (kind) {
    case 'usb-host':
      return {
        ...base,
        name: freeDeviceName(rig, 'USB host'),
        role: 'carrier',
        ports: [
          port('USB 1', 'in', 'usb', false, true),
          port('USB 2', 'in', 'usb', false, true),
          port('DIN out', 'out', 'din', false),
        ],
      };
    case 'splitter':
      return {
        ...base,
        name: freeDeviceName(rig, 'Splitter'),
        role: 'carrier',
        ports: [
          port('In', 'in', 'din', false),
          ...[1, 2, 3].map((n) => port(`Out ${n}`, 'out', 'din', false)),
        ],
      };
    case 'interface':
      return {
        ...base,
        name: freeDeviceName(rig, 'Interface'),
        role: 'carrier',
        ports: [
          port('In 1', 'in', 'din', true),
          port('In 2', 'in', 'din', true),
          port('Out 1', 'out', 'din', true),
          port('Out 2', 'out', 'din', true),
        ],
      };
    case 'string-processor':
    case 'track-host':
    case 'looper':
    case 'mixer':
    case 'lights':
    case 'pad-instrument':
    case 'backing-player': {
      const standIn = STAND_INS[kind];
      const { extraChannel } = standIn;
      const channel = freeChannel(rig, 'receiver', extraChannel?.above);
      return {
        ...base,
        channel,
        extraChannels: extraChannel
          ? [{ name: extraChannel.name, channel: (channel + extraChannel.above) % 16 }]
          : [],
        name: freeDeviceName(rig, standIn.title),
        role: 'receiver',
        standIn: kind,
        ports: [
          kind === 'track-host' ? port('Host in', 'in', 'virtual', true) : port('USB', 'in', 'usb', true),
        ],
        chart: standIn.chart.map((row) => ({
          ...row,
          id: id(),
          powerOn: row.powerOn ?? restingValue(kind, row),
        })),
      };
    }
    case 'receiver':
      return {
        ...base,
        name: freeDeviceName(rig, 'Device'),
        role: 'receiver',
        ports: [port('In', 'in', 'din', false), port('Thru', 'thru', 'din', false)],
      };
  }
}

/** The rig with a copy of a device: a name, tape mark and channel of its own, and no cables. */
export function withDuplicate(rig: FullRig, device: Device): { rig: FullRig; deviceId: string } {
  const copy: Device = {
    ...device,
    id: id(),
    name: freeDeviceName(rig, device.name),
    mark: freeMark(rig),
    channel: device.role === 'carrier' ? device.channel : freeChannel(rig, device.role),
    ports: device.ports.map((p) => ({ ...p, id: id() })),
    chart: device.chart.map((f) => ({ ...f, id: id() })),
    startUp: device.startUp.map((s) => ({ ...s, id: id(), done: false })),
  };
  const rightMm = Math.max(0, ...rig.boards.map((b) => b.xMm + b.widthMm + 80));
  const boards = rig.boards
    .filter((b) => b.deviceId === device.id)
    .map((b) => ({
      ...b,
      id: id(),
      deviceId: copy.id,
      presetId: null,
      xMm: rightMm,
      controls: b.controls.map((c) => ({ ...c, id: id() })),
    }));
  const at = rig.devices.findIndex((d) => d.id === device.id) + 1;
  return {
    rig: {
      ...rig,
      devices: [...rig.devices.slice(0, at), copy, ...rig.devices.slice(at)],
      boards: [...rig.boards, ...boards],
    },
    deviceId: copy.id,
  };
}

/** Colours change before shapes do, so that neighbours look as different as they can. */
export function freeMark(rig: FullRig): Device['mark'] {
  const taken = new Set(rig.devices.map((d) => `${d.mark.shape} ${d.mark.colour}`));
  for (let round = 0; round < TAPE_SHAPES.length; round++)
    for (let i = 0; i < TAPE_SHAPES.length; i++) {
      const shape = nth(TAPE_SHAPES, i);
      const colour = nth(TAPE_COLOURS, (i + round) % TAPE_COLOURS.length);
      if (!taken.has(`${shape} ${colour}`) && (round > 0 || !rig.devices.some((d) => d.mark.shape === shape)))
        return { shape, colour };
    }
  return { shape: 'cross', colour: 'coral' };
}

const CARRIERS: ReadonlySet<DeviceKind> = new Set(['interface', 'usb-host', 'splitter']);

/**
 * Controllers from channel 16 down, what answers from 1 up; 0–15.
 * @param above a second channel, so many above, that has to be free too.
 */
export function freeChannel(rig: FullRig, role: Device['role'], above = 0): number {
  if (role === 'carrier') return 0;
  const taken = new Set(
    rig.devices
      .filter((d) => d.role !== 'carrier')
      .flatMap((d) => [d.channel, ...d.extraChannels.map((e) => e.channel)]),
  );
  const channels = Array.from({ length: 16 }, (_, i) => (role === 'controller' ? 15 - i : i));
  const isFree = (c: number) => !taken.has(c) && (above === 0 || (c + above < 16 && !taken.has(c + above)));
  return channels.find(isFree) ?? channels.find((c) => !taken.has(c)) ?? 0;
}

/** A name that no device of the rig has. */
export const freeDeviceName = (rig: FullRig, wanted: string): string =>
  freeName(
    rig.devices.map((d) => d.name),
    wanted,
  );
