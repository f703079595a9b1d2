import { makeBoard, makeDevice, makeFunction, makeRig } from '../../testing.test-support';

/** A board of four switches and a pedal, with two empty banks, and gear with five functions. */
export const gear = makeDevice({
  id: 'gear',
  name: 'Gear',
  channel: 4,
  chart: [
    makeFunction({
      id: 'drive',
      name: 'Drive',
      drive: { kind: 'controller', controller: 30 },
      shape: { kind: 'switch', off: 0, on: 127 },
    }),
    makeFunction({
      id: 'kept',
      name: 'Kept',
      drive: { kind: 'controller', controller: 31 },
      shape: { kind: 'switch', off: 0, on: 127 },
      reserved: true,
    }),
    makeFunction({
      id: 'echo',
      name: 'Echo',
      drive: { kind: 'controller', controller: 32 },
      shape: { kind: 'switch', off: 0, on: 127 },
    }),
    makeFunction({
      id: 'snapshot',
      name: 'Snapshot',
      drive: { kind: 'controller', controller: 22 },
      shape: { kind: 'choice', first: 0, shownFrom: 1, labels: ['Dry', 'Body', 'Full', 'Glass'] },
    }),
    makeFunction({ id: 'volume', name: 'Volume', drive: { kind: 'controller', controller: 7 } }),
  ],
});
const { device, board, preset } = makeBoard(4, 1, [[], []]);
export const rig = makeRig([device, gear], [], [board]);
export { board, preset };
