import type { Show } from '../engine';
import type { Assignment, Bank, Board, RigWithBoards } from '../floor';
import { PLAIN_DEVICE, PLAIN_FUNCTION, PLAIN_PORT, type Cable, type Device, type Port } from '../gear';
import type { LinkKind } from '../midi';
import { OWN_OUT, type BoardMemory } from './boardMemory';

const mark = { shape: 'box', colour: 'slate' } as const;
const receives = (id: string, link: LinkKind): Port => ({
  ...PLAIN_PORT,
  id,
  name: 'in',
  direction: 'in',
  link,
});

/**
 * What a memory has its board do, as a rig that is played: the board, its out, and the gear as the memory knows it. The
 * controls are those of the hardware; one more than the memory knows does nothing.
 * @param link that of the board's out, which says how long bytes take.
 */
export function memoryShow(memory: BoardMemory, board: Board, link: LinkKind): Show {
  let rows = 0;
  const gear = memory.devices.map(({ chart, ...device }, i): Device => ({
    ...PLAIN_DEVICE,
    ...device,
    id: `d${i}`,
    role: 'receiver',
    mark,
    ports: [receives(`in${i}`, link)],
    chart: chart.map((fn) => ({ ...PLAIN_FUNCTION, ...fn, id: `r${rows++}` })),
  }));
  const own = { ...PLAIN_DEVICE, mark, ports: [] };
  const out: Device = {
    ...own,
    id: 'wire',
    name: 'out',
    role: 'carrier',
    ports: [
      { ...PLAIN_PORT, id: OWN_OUT, name: 'out', direction: 'in', link: 'usb', atComputer: true },
      { ...PLAIN_PORT, id: 'thru', name: 'out', direction: 'out', link },
    ],
  };
  const cables = gear.map((_, i): Cable => ({ id: `cable${i}`, fromPortId: 'thru', toPortId: `in${i}` }));
  const idOf = (place: string): string => board.controls[Number(place.slice(1))]?.id ?? place;
  const withControls = (a: Assignment): Assignment => ({ ...a, controlId: idOf(a.controlId) });
  const ofBank = (b: Bank): Bank => ({ ...b, assignments: b.assignments.map(withControls) });
  const preset = {
    id: 'memory',
    rigId: 'memory',
    boardId: board.id,
    name: memory.name,
    folder: '',
    feel: memory.feel,
    banks: memory.banks.map(ofBank),
    groups: memory.groups.map((g) => ({
      ...g,
      controlIds: g.controlIds.map(idOf),
      pages: g.pages.map(ofBank),
    })),
  };
  const rig: RigWithBoards = {
    id: 'memory',
    name: memory.name,
    middleC: 3,
    devices: [{ ...own, id: board.deviceId, name: board.id, role: 'controller' }, out, ...gear],
    cables,
    boards: [{ ...board, presetId: preset.id, mode: 'hosted', bankFollows: 'nothing' }],
  };
  return { rig: { ...rig, stepGuardMs: memory.stepGuardMs }, presets: [preset], setName: '', songs: [] };
}
