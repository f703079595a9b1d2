import type { LinkKind } from '../../midi';
import type { Device, Port } from '../rig';

/** A link in words. */
export const LINK_WORDS: Record<LinkKind, string> = {
  din: 'DIN',
  usb: 'USB',
  bluetooth: 'Bluetooth',
  virtual: 'virtual',
  network: 'network',
};

/** Stands where a port is pointed at that is no longer there. */
export const PORT_GONE = 'a port that is gone';

/** A port with its device. Example: `Crossbar Out A`. */
export const portWords = ({ name }: Pick<Device, 'name'>, port: Pick<Port, 'name'>): string =>
  `${name} ${port.name}`;
