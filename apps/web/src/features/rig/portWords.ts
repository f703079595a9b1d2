import type { RigDoc } from '@idle-step/contract';
import type { RigPath } from '@idle-step/core/gear';
import type { LinkKind } from '@idle-step/core/midi';

export const LINK_WORDS: Record<LinkKind, string> = {
  din: 'DIN',
  usb: 'USB',
  bluetooth: 'Bluetooth',
  virtual: 'virtual',
  network: 'network',
};
/** For where there is no room: BLE is the standard's own short name of Bluetooth Low Energy. */
export const SHORT_LINK: Record<LinkKind, string> = {
  ...LINK_WORDS,
  bluetooth: 'BLE',
  virtual: 'virt',
  network: 'net',
};

/** Example: `Crossbar Out A`. */
export function portName(rig: RigDoc, portId: string): string {
  const device = rig.devices.find((d) => d.ports.some((p) => p.id === portId));
  return device ? `${device.name} ${device.ports.find((p) => p.id === portId)!.name}` : 'gone';
}

/** Example: `Plank 10 Out → Crossbar In 1 → computer → Crossbar Out A → Kelpline In`. */
export const pathWords = (path: RigPath): string =>
  path.stops
    .map((s) =>
      s.kind === 'computer'
        ? 'computer'
        : [s.device.name, s.enters?.name, s.leaves && s.enters ? 'to' : '', s.leaves?.name]
            .filter(Boolean)
            .join(' '),
    )
    .join(' → ');
