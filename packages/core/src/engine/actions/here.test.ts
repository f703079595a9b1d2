import { expect, it } from 'vitest';
import { controller, encode, hex } from '../../midi';
import { assign, cable, makeBoard, makeDevice, makeFunction, makePort } from '../../testing.test-support';
import { changeShow, initialState, isLampLit, type Effect, type LiveState } from '../index';
import { makeShow, Playing, showWithGear, worldOf } from '../playing.test-support';

const here = (thing: string, to: string) => ({ kind: 'here', thing, to });
const WORK = [here('click', 'toggle'), here('hands-off', 'toggle'), here('blackout', 'off')];
const { device, board, preset } = makeBoard(WORK.length, 0, [
  WORK.map((action, i) => assign(`s${i}`, [action as never])),
]);
const boardIn = makePort({ direction: 'in', link: 'usb' });
const toBoard = makePort({ direction: 'out', link: 'usb', atComputer: true });
const lamp = { off: 0, on: 127, blink: 64 };
const shown = showWithGear(
  { chart: [makeFunction({ id: 'level', drive: { kind: 'controller', controller: 21 } })] },
  {
    device: { ...device, ports: [...device.ports, boardIn] },
    board: {
      ...board,
      controls: board.controls.map((c, i) => (i === 0 ? { ...c, hardware: { ...c.hardware, lamp } } : c)),
    },
    preset,
  },
);
const rig = {
  ...shown.rig,
  devices: [...shown.rig.devices, makeDevice({ role: 'carrier', ports: [toBoard] })],
  cables: [...shown.rig.cables, cable(toBoard, boardIn)],
};
const world = worldOf(rig, { presets: [preset] });

/** Presses and lets go of switches, one after the other. */
function pressed(...places: number[]): { state: LiveState; effects: Effect[] } {
  const playing = new Playing(world);
  const effects: Effect[] = [];
  for (const [n, place] of places.entries())
    for (const value of [127, 0])
      effects.push(...playing.hear(n * 1000, controller(15, 30 + place, value)).effects);
  return { state: playing.state, effects };
}
const litNow = (state: LiveState) => [0, 1, 2].map((i) => isLampLit(state, `s${i}`));

it('a switch switches the click, hands off and daylight, and its lamp shows it', () => {
  const begun = initialState(world, 0);
  expect(begun.here).toEqual({ click: false, blackout: true, 'hands-off': false });
  expect(litNow(begun)).toEqual([false, false, false]);
  const once = pressed(0, 1, 2).state;
  expect(once.here).toEqual({ click: true, blackout: false, 'hands-off': true });
  expect(litNow(once)).toEqual([true, true, true]);
  expect(litNow(pressed(0, 1, 2, 0, 1, 2).state)).toEqual([false, false, true]);
});

it('hands off silences first, and back on tells the lamp of the board again', () => {
  const sentBy = (effects: readonly Effect[]) =>
    effects.flatMap((e) => (e.kind === 'send' ? hex(encode(e.message)) : []));
  expect(sentBy(pressed(0).effects)).toEqual(['BF 1E 7F']);
  const silent = ['B0 40 00', 'B0 7B 00', 'B0 78 00'];
  expect(sentBy(pressed(1).effects)).toEqual(silent);
  // That of the click stands as it stood, and may have been lost meanwhile.
  expect(sentBy(pressed(1, 1).effects)).toEqual([...silent, 'BF 1E 00']);
});

it('stays as it is where another rig is opened', () => {
  const { state } = pressed(0, 1);
  const other = makeShow({ ...rig, id: 'other' });
  expect(changeShow(world, state, other, 9000).state.here).toEqual(state.here);
});

it.each([
  ['a controller', { kind: 'controller', number: 40 } as const, ['BF 28 7F', 'BF 28 00']],
  ['a note', { kind: 'note', number: 36 } as const, ['9F 24 7F', '9F 24 00']],
  ['nothing where its message is neither', { kind: 'program', number: 3 } as const, []],
])('the lamp of a control is told by %s', (_, sends, told) => {
  const lit = worldOf(
    {
      ...rig,
      boards: rig.boards.map((b) => ({
        ...b,
        controls: b.controls.map((c, i) => (i === 0 ? { ...c, sends } : c)),
      })),
    },
    { presets: [preset] },
  );
  const playing = new Playing(lit);
  const lamps = () =>
    playing.messages.flatMap(({ portId, message }) => (portId === toBoard.id ? hex(encode(message)) : []));
  playing.messages.length = 0;
  playing
    .do(0, { kind: 'here', thing: 'click', to: 'on' })
    .do(10, { kind: 'here', thing: 'click', to: 'off' });
  expect(lamps().filter((bytes) => !bytes.startsWith('F'))).toEqual(told);
});
