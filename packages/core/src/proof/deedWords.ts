import type { World } from '../engine';
import type { Action } from '../floor';
import { shownText } from '../gear';

/** What an action does, in a few words. Example: `Kelpline Snapshot: 3 Full`. */
export function deedWords(world: World, action: Action): string {
  if ('functionId' in action) {
    const found = world.functions.get(action.functionId);
    if (!found) return 'a function that is gone';
    const name = `${found.device.name} ${found.fn.name}`;
    switch (action.kind) {
      case 'set':
        return `${name}: ${shownText(found.device, found.fn, action.value)}`;
      case 'toggle':
        return `toggle ${name}`;
      case 'ramp':
        return `glide ${name}`;
      case 'arm-only':
        return `arm only ${found.fn.arms ?? found.fn.name}`;
      default:
        return name;
    }
  }
  switch (action.kind) {
    case 'scene':
      if (action.to.kind === 'is') return `go to ${sceneName(world, action.to.sceneId)}`;
      return action.to.kind === 'at'
        ? `go to scene ${action.to.index + 1}`
        : action.to.kind === 'again'
          ? 'recall the scene again'
          : `go to the ${action.to.kind} scene`;
    case 'song':
      if (typeof action.to === 'object') return `go to song ${action.to.index + 1}`;
      return action.to === 'again' ? 'begin the song again' : `go to the ${action.to} song`;
    case 'show':
      return {
        begin: 'begin the set',
        end: 'end the set',
        next: 'go on in the set',
        previous: 'go back in the set',
      }[action.to];
    case 'view':
      return `turn to the ${action.to} view`;
    case 'capture':
      return 'capture into the scene';
    case 'bank':
      return 'turn the bank';
    case 'page':
      return 'turn the page';
    case 'message':
      return `send ${action.send} ${action.number}`;
    case 'raw':
      return 'send raw bytes';
    case 'arm-step':
      return `arm the ${action.to} track`;
    case 'clock':
      return `${action.to} the clock`;
    case 'route':
      return `switch ${action.part === 'gate' ? 'the gate of ' : ''}${world.routes.byId.get(action.routeId)?.name ?? 'a route that is gone'}`;
    case 'line':
      return action.to === 'toggle' ? 'run or stop the time line' : `${action.to} the time line`;
    case 'cue':
      return action.to.kind === 'at' ? `go to cue ${action.to.index + 1}` : `go to the ${action.to.kind} cue`;
    case 'loop':
      return action.to === 'toggle' ? 'loop on or off' : `loop ${action.to}`;
    case 'tap':
      return 'tap the tempo';
    case 'panic':
      return 'panic';
  }
}

const sceneName = (world: World, sceneId: string): string =>
  world.songs.flatMap((s) => s.song.scenes).find((s) => s.id === sceneId)?.name ?? 'a scene that is gone';
