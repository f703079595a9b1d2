import { reachedBanks, type World, type WorldBoard } from '../engine';
import { hasActions, isPressed, type Control } from '../floor';
import { isUsable, type Device } from '../gear';

/** A control that is pressed or moved once. */
export type CheckedControl = {
  readonly kind: 'switch' | 'moved';
  readonly id: string;
  readonly boardId: string;
  readonly boardName: string;
  readonly name: string;
  /** Where its messages arrive; empty for a key of the computer. */
  readonly portId: string;
  /** 0–15. */
  readonly channel: number;
  readonly control: Control;
  /** Where its lamp is reached; `null` where it has none. */
  readonly lampPortId: string | null;
};

/** A device that is asked something. */
export type CheckedDevice = {
  readonly kind: 'device';
  readonly id: string;
  readonly name: string;
  /** The port that it is asked by, and the one that it answers by. */
  readonly outPortId: string;
  readonly portId: string;
  readonly device: Device;
  /** Hexadecimal pairs. */
  readonly request: string;
};

export type CheckThing = CheckedControl | CheckedDevice;

/**
 * What a line check goes through: devices that can be asked, and then every control of every board that this application
 * plays, along the board.
 * @param onlyUsed of the controls those that do something in a bank that can be got to, or in a scene.
 */
export function checkThings(world: World, onlyUsed = false): CheckThing[] {
  const devices = world.show.rig.devices.flatMap((device): CheckedDevice[] => {
    const out = world.ways.get(device.id)?.path?.portId;
    const fn = device.chart.find((f) => f.request !== '' && isUsable(device, f));
    const back = world.backs.get(device.id);
    if (out === undefined || back === undefined || !fn || device.away) return [];
    const { id, name } = device;
    return [{ kind: 'device', id, name, outPortId: out, portId: back, device, request: fn.request }];
  });
  return [...devices, ...world.boards.flatMap((board) => controlsOf(world, board, onlyUsed))];
}

function controlsOf(world: World, worldBoard: WorldBoard, onlyUsed: boolean): CheckedControl[] {
  const { board, device, path, lampPortId } = worldBoard;
  if (board.isOnScreen || board.mode === 'standalone' || device.away) return [];
  const used = onlyUsed ? usedControls(world, worldBoard) : null;
  return board.controls.flatMap((control): CheckedControl[] => {
    if (used && !used.has(control.id)) return [];
    const isKey = control.sends.kind === 'key';
    if (!isKey && !path) return [];
    return [
      {
        kind: isPressed(control.kind) ? 'switch' : 'moved',
        id: control.id,
        boardId: board.id,
        boardName: device.name,
        name: control.name,
        portId: isKey ? '' : (path?.portId ?? ''),
        channel: control.channel ?? device.channel,
        control,
        lampPortId: control.hardware.lamp ? lampPortId : null,
      },
    ];
  });
}

/** Controls of a board that do something while the set is played. */
function usedControls(world: World, worldBoard: WorldBoard): ReadonlySet<string> {
  const reached = reachedBanks(world, worldBoard);
  const pages = [
    ...worldBoard.banks.filter((b) => reached.has(b.bank.id)),
    ...worldBoard.groups.flatMap((g) => g.pages),
  ];
  const used = pages.flatMap((page) =>
    [...page.assignments.values()].flatMap((a) => (hasActions(a) || a.sweeps.length > 0 ? a.controlId : [])),
  );
  const inScenes = world.songs.flatMap((s) => s.controls.flatMap((works) => [...works.keys()]));
  return new Set([...used, ...inScenes]);
}
