import { type FullRig, portName } from '@idle-step/core/routing';
import { type Device, Cabling } from '@idle-step/core/gear';
import { plugCable, withDevice, withLink } from './rigEdits';

/** What brings a board's messages to where they are heard: a binding of this browser, an edit of the rig, or both. */
export type WayChange = {
  readonly bind: { readonly portId: string; readonly input: string } | null;
  /** A rig port that loses the input to the one above, or `null`. */
  readonly unbind: string | null;
  readonly edit: ((rig: FullRig) => FullRig) | null;
};

export type WayIn =
  /** What the board sends is heard as the board's. */
  | { readonly kind: 'there' }
  /** One thing was missing, and it could only be this. */
  | { readonly kind: 'sure'; readonly sentence: string; readonly change: WayChange }
  | {
      readonly kind: 'asked';
      readonly sentence: string;
      readonly offers: readonly { readonly text: string; readonly change: WayChange }[];
    };

type Came =
  /** At an input of the browser that nothing was bound to. */
  | { readonly kind: 'input'; readonly name: string }
  /** At a port of the rig. */
  | { readonly kind: 'port'; readonly portId: string };

/**
 * Whether a board is heard where its messages came in, and what is missing where it is not.
 * @param boundName the browser's port that a rig port is bound to, or `null`.
 */
export function wayIn(
  rig: FullRig,
  board: Device,
  came: Came,
  boundName: (portId: string) => string | null,
): WayIn {
  const own = new Cabling(rig).pathFrom(board)?.portId ?? null;
  if (came.kind === 'input') return wayFromInput(rig, board, own, came.name, boundName);
  if (came.portId === own) return { kind: 'there' };
  const input = boundName(came.portId);
  const at = portName(rig, came.portId);
  const plug = own ?? board.ports.find((p) => p.direction === 'out')?.id;
  const cabled = cabledTo(rig, board, came.portId);
  return {
    kind: 'asked',
    sentence: `It came in at ${at}, where ${board.name} is not plugged in as the rig is written down: what it sends would not be heard as ${board.name}.`,
    offers: [
      ...(cabled
        ? [
            {
              text: `Draw the cable from ${board.name} to ${at}`,
              change: {
                bind: null,
                unbind: null,
                edit: (now: FullRig) => cabledTo(now, board, came.portId) ?? now,
              },
            },
          ]
        : []),
      ...(input !== null && plug !== undefined
        ? [
            {
              text: `“${input}” is ${board.name} itself: bind it to ${portName(rig, plug)}`,
              change: { bind: { portId: plug, input }, unbind: came.portId, edit: atComputer(board, plug) },
            },
          ]
        : []),
    ],
  };
}

function wayFromInput(
  rig: FullRig,
  board: Device,
  own: string | null,
  input: string,
  boundName: (portId: string) => string | null,
): WayIn {
  const portId = own ?? board.ports.find((p) => p.direction === 'out')?.id;
  if (portId === undefined)
    return {
      kind: 'asked',
      sentence: `It came from “${input}”, and ${board.name} has no output to bind it to. Add one in Rig.`,
      offers: [],
    };
  const to = portName(rig, portId);
  const change = { bind: { portId, input }, unbind: null, edit: own ? null : atComputer(board, portId) };
  const other = boundName(portId);
  if (own && other === null) return { kind: 'sure', sentence: `“${input}” is bound to ${to}.`, change };
  return {
    kind: 'asked',
    sentence: other
      ? `It came from “${input}”, and ${to} is bound to “${other}”.`
      : `It came from “${input}”, and no cable leads from ${board.name} to the computer.`,
    offers: [{ text: `Bind “${input}” to ${to}${other ? ' instead' : ''}`, change }],
  };
}

/** The port plugged into the computer itself. */
const atComputer = (board: Device, portId: string) => (rig: FullRig) =>
  withDevice(rig, board.id, (d) => ({
    ...d,
    ports: d.ports.map((p) => (p.id === portId ? { ...p, atComputer: true } : p)),
  }));

/** The board's free output plugged into a port of another device; `null` where a rule of cables refuses it. */
function cabledTo(rig: FullRig, board: Device, toPortId: string): FullRig | null {
  const to = rig.devices.flatMap((d) => d.ports).find((p) => p.id === toPortId);
  const from = board.ports.find(
    (p) => p.direction === 'out' && !rig.cables.some((c) => c.fromPortId === p.id),
  );
  if (!to || !from) return null;
  const unplugged = withDevice(rig, board.id, (d) => ({
    ...d,
    ports: d.ports.map((p) =>
      p.id === from.id
        ? {
            ...withLink(p, to.link),
            // A port that is called after a plug that it is not would be looked for in vain.
            name: p.name === 'USB' && to.link !== 'usb' ? 'Out' : p.name,
            atComputer: false,
            isUsbHost: false,
          }
        : p,
    ),
  }));
  return plugCable(unplugged, from.id, toPortId).rig;
}
