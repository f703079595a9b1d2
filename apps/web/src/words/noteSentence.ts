import { portName } from '@idle-step/core/routing';
import type { LiveNote, World } from '@idle-step/core/engine';

/** What a note of the engine says to a person: what happened or did not, and what to do. */
export function noteSentence(note: LiveNote, world: World): string {
  const fn = (id: string) => {
    const reached = world.functions.get(id);
    return reached ? `${reached.device.name} ${reached.fn.name}` : 'a function';
  };
  switch (note.code) {
    case 'function-gone':
      return 'Nothing sent: the function that this points at is gone from its chart.';
    case 'device-gone':
      return 'Nothing sent: the device that this points at is gone from the rig.';
    case 'page-gone':
      return 'The page that this turns to is gone.';
    case 'route-gone':
      return 'Nothing switched: the route that this points at is gone.';
    case 'route-loop': {
      const name = world.routes.byId.get(note.routeId)?.name ?? 'A route';
      return `${name} was stopped: the same message keeps coming back to it. Look in Routes for what feeds it.`;
    }
    case 'no-tracks':
      return 'Nothing armed: this device has no function that arms a track. Say so in its chart, in Rig.';
    case 'no-way': {
      const device = world.show.rig.devices.find((d) => d.id === note.deviceId);
      return note.functionId
        ? `${fn(note.functionId)} was not sent: no cable leads from the computer to ${device?.name ?? 'it'}. Mend it in Rig.`
        : `${device?.name ?? 'This board'} reaches nothing: no cable leads from it to the computer. Mend it in Rig.`;
    }
    case 'value-refused':
      return `${fn(note.functionId)} was not sent: ${note.value} is not a value it takes.`;
    case 'function-reserved':
      return `${fn(note.functionId)} was not sent: the device keeps this message for its own hardware.`;
    case 'not-under-setting':
      return `${fn(note.functionId)} was not sent: the device does not have it under its setting as it is now.`;
    case 'port-off': {
      const port = portName(world.show.rig, note.portId);
      return note.functionId
        ? `${fn(note.functionId)} was not sent: ${port} is not enabled for playing. Mend it in Rig, under Ports.`
        : `${port} is not enabled for playing, so nothing passes it. Mend it in Rig, under Ports.`;
    }
    case 'no-such-scene':
      return `There is no scene ${note.index + 1} in this song; it has ${note.sceneCount}.`;
    case 'end-of-set':
      return 'That was the last scene of the last song.';
    case 'start-of-set':
      return 'This is the first scene of the first song.';
    case 'no-songs':
      return 'There is no song in this set yet.';
    case 'nothing-assigned':
      return 'Nothing is assigned to this switch in this bank.';
    case 'bank-gone':
      return 'The bank that this goes to is gone.';
    case 'panic':
      return 'Panic: notes ended, dampers lifted, all sound off.';
    case 'pressed':
      return `${note.label} pressed.`;
    case 'recalled': {
      const song = world.songs[note.songIndex]?.song;
      const scene = song?.scenes[note.sceneIndex];
      return `${song?.name ?? ''}, ${scene?.name ?? ''}: settled in ${milliseconds(note.settlesInMs)}.`;
    }
  }
}

/** Example: `42.64 ms`, `1.20 s`. */
export const milliseconds = (ms: number): string =>
  ms >= 1000 ? `${(ms / 1000).toFixed(2)} s` : `${Number(ms.toFixed(2))} ms`;
