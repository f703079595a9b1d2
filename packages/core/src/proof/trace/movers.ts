import type { World } from '../../engine';
import { ACTION_LISTS, functionOfAction, type ActionListName } from '../../floor';
import { answersOn, type Drive } from '../../gear';
import { controller, noteOn, pitchBend, program, type Message, channelPressure } from '../../midi';
import { compileChange, mayTake, type Route } from '../../routing';
import { there } from '../../sure';

/** One thing that can move a function. */
export type Mover =
  | {
      readonly kind: 'control';
      readonly boardId: string;
      readonly controlId: string;
      readonly controlName: string;
      readonly deviceName: string;
      readonly pageName: string;
      readonly gesture: ActionListName | 'sweep';
      /** It is there, and switched off. */
      readonly isOff: boolean;
    }
  | {
      readonly kind: 'scene';
      readonly songId: string;
      readonly songName: string;
      readonly sceneName: string;
      readonly value: number;
    }
  | { readonly kind: 'route'; readonly routeId: string; readonly routeName: string; readonly isOn: boolean };

/** Every control, scene and route that can move a function, in the order of boards, songs and routes. */
export function moversOf(world: World, functionId: string): Mover[] {
  const controls = world.boards.flatMap(({ board, device, banks, groups }): Mover[] =>
    [...banks, ...groups.flatMap((g) => g.pages)].flatMap((page) =>
      page.bank.assignments.flatMap((assignment): Mover[] => {
        const control = board.controls.find((c) => c.id === assignment.controlId);
        const mover = (gesture: ActionListName | 'sweep', isOff: boolean): Mover => ({
          kind: 'control',
          boardId: board.id,
          controlId: assignment.controlId,
          controlName: control?.name ?? 'a control that is gone',
          deviceName: device.name,
          pageName: page.bank.name,
          gesture,
          isOff,
        });
        return [
          ...ACTION_LISTS.flatMap((list) =>
            assignment[list].flatMap((a) =>
              functionOfAction(a) === functionId ? [mover(list, a.isOff ?? false)] : [],
            ),
          ),
          ...assignment.sweeps.flatMap((s) => (s.functionId === functionId ? [mover('sweep', false)] : [])),
        ];
      }),
    ),
  );
  const songs = [...new Map(world.songs.map((s) => [s.song.id, s.song])).values()];
  const scenes = songs.flatMap((song) =>
    song.scenes.flatMap((scene) =>
      scene.values.flatMap((v): Mover[] =>
        v.functionId === functionId
          ? [{ kind: 'scene', songId: song.id, songName: song.name, sceneName: scene.name, value: v.value }]
          : [],
      ),
    ),
  );
  const routes = world.routes.routing.routes.flatMap((route): Mover[] =>
    canMove(world, route, functionId)
      ? [{ kind: 'route', routeId: route.id, routeName: route.name, isOn: route.isOn }]
      : [],
  );
  return [...controls, ...scenes, ...routes];
}

/** Whether some message that a route takes in becomes one that drives the function. */
function canMove(world: World, route: Route, functionId: string): boolean {
  const reached = world.functions.get(functionId);
  const portId = reached?.path?.portId;
  if (!reached || portId === undefined) return false;
  const ends = route.to.filter((t) => t.portId === portId);
  const hears = (message: Message): boolean =>
    drives(reached.fn.drive, message) &&
    ends.some((t) =>
      answersOn(reached.device, reached.fn, t.channel ?? ('channel' in message ? message.channel : 0)),
    );
  if (ends.length === 0) return false;
  if (route.modulation) {
    const channels = route.from.channels.length > 0 ? route.from.channels : [...Array(16).keys()];
    return channels.some((c) => hears(controller(c, there(route.modulation).controller, 64)));
  }
  const change = compileChange(route.change, route.from.values);
  const channels = route.from.channels.length > 0 ? route.from.channels : [...Array(16).keys()];
  // The number that comes in is at most one table line or one transposition away from the one that goes out.
  for (const ch of channels)
    for (let n = 0; n < 128; n++)
      for (const message of samples(ch, n)) {
        const out = mayTake(route, message) ? change(message) : null;
        if (out && hears(out)) return true;
      }
  return false;
}

const samples = (ch: number, n: number): readonly Message[] => [
  controller(ch, n, 64),
  noteOn(ch, n, 64),
  program(ch, n),
  ...(n === 0 ? [pitchBend(ch, 9000), channelPressure(ch, 64)] : []),
];

function drives(drive: Drive, message: Message): boolean {
  switch (drive.kind) {
    case 'controller':
      return message.kind === 'controller' && message.controller === drive.controller;
    case 'note':
      return message.kind === 'note-on' && message.note === drive.note;
    case 'program':
    case 'pitch-bend':
    case 'channel-pressure':
      return message.kind === drive.kind;
    default:
      return false;
  }
}
