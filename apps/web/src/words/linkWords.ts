import { LINK_WORDS } from '@idle-step/core/gear';
import type { RigPath } from '@idle-step/core/gear';
import type { LinkKind } from '@idle-step/core/midi';

/** For where there is no room: BLE is the standard's own short name of Bluetooth Low Energy. */
export const SHORT_LINK: Record<LinkKind, string> = {
  ...LINK_WORDS,
  bluetooth: 'BLE',
  virtual: 'virt',
  network: 'net',
};

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
