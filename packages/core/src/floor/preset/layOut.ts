import { isUsable, shownText, valueBounds, type ChartFunction, type Device } from '../../gear';
import { isPressed, type Control } from '../board/board';
import { type Action } from './action';
import { PLAIN_ASSIGNMENT, plainResponse, type Assignment } from './preset';

/** What one control would do after laying out, and the words for it. */
export type LaidOut = { readonly assignment: Assignment; readonly says: string };

/**
 * Lays a device's main functions onto controls, both in their order: blocks, triggers and then the values of the first
 * choice onto what is pressed, ranges onto what is moved. Functions without a control and controls without a function
 * are left out; numbers that the device keeps for itself are never used.
 * @param newId makes an identifier for each action and sweep.
 */
export function layOut(
  device: Device,
  controls: readonly Control[],
  newId: () => string,
): { laid: LaidOut[]; left: ChartFunction[] } {
  const usable = device.chart.filter((fn) => isUsable(device, fn));
  const deeds = [
    ...usable.flatMap((fn) => (fn.shape.kind === 'switch' ? [toggleOf(fn)] : [])),
    ...usable.flatMap((fn) => (fn.shape.kind === 'trigger' ? [setOf(device, fn, 0)] : [])),
    ...valuesOf(
      device,
      usable.find((fn) => fn.shape.kind === 'choice'),
    ),
  ];
  const ranges = usable.filter((fn) => fn.shape.kind === 'range');
  const laid: LaidOut[] = [];
  const used = new Set<string>();
  const pressed = controls.filter((c) => isPressed(c.kind));
  const moved = controls.filter((c) => !isPressed(c.kind));
  pressed.forEach((control, i) => {
    const deed = deeds[i];
    if (!deed) return;
    used.add(deed.fn.id);
    // An action without its identifier, and with one again.
    const action = { ...deed.action, id: newId() } as Action;
    laid.push({
      assignment: { ...PLAIN_ASSIGNMENT, controlId: control.id, press: [action] },
      says: deed.says,
    });
  });
  moved.forEach((control, i) => {
    const fn = ranges[i];
    if (!fn) return;
    used.add(fn.id);
    const { min, max } = valueBounds(fn.shape);
    const sweep = {
      id: newId(),
      functionId: fn.id,
      from: min,
      to: max,
      invert: false,
      curve: 'linear' as const,
      points: [],
    };
    laid.push({
      assignment: {
        ...PLAIN_ASSIGNMENT,
        controlId: control.id,
        sweeps: [sweep],
        response: plainResponse(control),
      },
      says: `moves ${fn.name}`,
    });
  });
  const isMain = (fn: ChartFunction) => fn.shape.kind === 'switch' || fn.shape.kind === 'range';
  return { laid, left: usable.filter((fn) => isMain(fn) && !used.has(fn.id)) };
}

/** The velocity of a note where what sends it cannot be struck. */
const VELOCITY = 100;

/**
 * Notes that count up over what is pressed, in the order of the board; knobs and pedals are left out, and so is what would
 * come after note 127.
 * @param first 0–127.
 */
export function layOutNotes(
  deviceId: string,
  controls: readonly Control[],
  first: number,
  newId: () => string,
): LaidOut[] {
  return controls
    .filter((c) => isPressed(c.kind))
    .slice(0, 128 - first)
    .map((control, i) => {
      const action: Action = {
        id: newId(),
        kind: 'message',
        deviceId,
        channel: null,
        send: 'note',
        number: first + i,
        value: VELOCITY,
      };
      return {
        assignment: { ...PLAIN_ASSIGNMENT, controlId: control.id, press: [action] },
        says: `note ${first + i}`,
      };
    });
}

type Loose = { readonly kind: 'toggle' | 'set'; readonly functionId: string; readonly value?: number };
type Deed = { readonly fn: ChartFunction; readonly action: Loose; readonly says: string };

const toggleOf = (fn: ChartFunction): Deed => ({
  fn,
  action: { kind: 'toggle', functionId: fn.id },
  says: `toggles ${fn.name}`,
});

const setOf = (device: Device, fn: ChartFunction, value: number): Deed => ({
  fn,
  action: { kind: 'set', functionId: fn.id, value },
  says: fn.shape.kind === 'trigger' ? fn.name : `${fn.name} ${shownText(device, fn, value)}`,
});

function valuesOf(device: Device, fn: ChartFunction | undefined): Deed[] {
  if (!fn) return [];
  const { min, max } = valueBounds(fn.shape);
  return Array.from({ length: max - min + 1 }, (_, i) => setOf(device, fn, min + i));
}
