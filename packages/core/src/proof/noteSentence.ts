import type { LiveNote, World } from '../engine';
import { portName } from '../routing';

/** What a note of the engine says to a person: what happened or did not, and what to do. */
export function noteSentence(note: LiveNote, world: World): string {
  const reached = 'functionId' in note && note.functionId ? world.functions.get(note.functionId) : undefined;
  const fn = reached ? `${reached.device.name} ${reached.fn.name}` : 'a function that is gone';
  switch (note.code) {
    case 'function-gone':
      return 'The function that this moves is gone from its chart. Choose another one.';
    case 'device-gone':
      return 'The device that this goes to is gone from the rig. Choose another one.';
    case 'bank-gone':
    case 'page-gone':
      return 'The bank or page that this goes to is gone. Choose another one in Floor.';
    case 'route-gone':
      return 'The route that this switches is gone. Choose another one in Floor.';
    case 'route-loop': {
      const name = world.routes.byId.get(note.routeId)?.name ?? 'A route';
      return `${name} was stopped: the same message keeps coming back to it. Look in Routes for what feeds it.`;
    }
    case 'no-tracks':
      return 'Nothing to arm: no function of this device arms a track. Say so in its chart.';
    case 'no-way': {
      const device = world.show.rig.devices.find((d) => d.id === note.deviceId);
      return note.functionId
        ? `${fn} was not sent: no cable leads from the computer to ${device?.name ?? 'it'}. Mend it in Rig.`
        : `${device?.name ?? 'This board'} reaches nothing: no cable leads from it to the computer. Mend it in Rig.`;
    }
    case 'value-unknown': {
      const control = world.controls.get(note.controlId)?.control.name ?? 'The encoder';
      return note.isSent
        ? `Where ${fn} stood was not known, so ${control} began where its range begins.`
        : `Where ${fn} stands is not known, so ${control} moves nothing yet. Recall a scene that sets it, or write its value at power-on into the chart.`;
    }
    case 'value-asked': {
      const control = world.controls.get(note.controlId)?.control.name ?? 'The encoder';
      return `${control} asked ${reached?.device.name ?? 'the device'} where ${reached?.fn.name ?? 'its function'} stands; what was meant follows once it has answered.`;
    }
    case 'switched-off-unknown':
      return `${fn} was not known, so it is off now. Press again for on; a scene that sets it makes it known.`;
    case 'value-refused':
      return `${fn} does not take ${note.value}. Choose a value that it has.`;
    case 'number-kept': {
      const device = world.show.rig.devices.find((d) => d.id === note.deviceId);
      return `CC ${note.number} was not sent: ${device?.name ?? 'the device'} keeps this number for its own hardware. Take a free one.`;
    }
    case 'function-reserved':
      return `${fn} was not sent: ${reached?.device.name ?? 'the device'} keeps this number for its own hardware. Take a free one.`;
    case 'not-under-setting':
      return reached
        ? `${reached.device.name} has ${reached.fn.name} only while ${reached.device.setting?.name ?? 'its setting'} is “${reached.fn.under ?? ''}”.`
        : `${fn} was not sent.`;
    case 'port-off': {
      const port = portName(world.show.rig, note.portId);
      return note.functionId
        ? `${fn} was not sent: ${port} is not enabled for playing. Mend it in Rig, under Ports.`
        : `${port} is not enabled for playing, so nothing passes it. Mend it in Rig, under Ports.`;
    }
    case 'no-such-cue':
      return 'There is no such cue in this song. Its cues stand in Songs, under Time.';
    case 'set-began':
      return `The set has begun${world.show.setName ? `: ${world.show.setName}` : ''}.`;
    case 'set-ended':
      return 'The set has ended.';
    case 'set-runs':
      return 'The set runs already.';
    case 'set-runs-not':
      return 'The set does not run: begin it first.';
    case 'captured':
      return note.count === 0
        ? 'The scene says already how everything stands.'
        : `Captured: ${note.count} ${note.count === 1 ? 'value' : 'values'} taken into the scene.`;
    case 'capture-lost':
      return 'Nothing was captured: the song was not fetched from the server since this page was opened.';
    case 'no-scene':
      return 'No scene is in play yet.';
    case 'pause':
      return `${note.name}.`;
    case 'double-step':
      return `A step ${Math.round(note.afterMs)} ms after the same one did not count. How far apart they have to be is said in Sets.`;
    case 'no-loop':
      return 'This song has no loop. Write one in Songs, under Time.';
    case 'cue':
      return `Cue ${note.name || 'without a name'}.`;
    case 'clock-lost':
      return `No clock comes by ${portName(world.show.rig, note.portId)} any more.`;
    case 'clock-found':
      return `The clock of ${portName(world.show.rig, note.portId)} is back.`;
    case 'no-such-scene':
      if (note.index < 0) return 'The scene that this goes to is not in the song in play.';
      return `There is no scene ${note.index + 1} in this song; it has ${note.sceneCount}.`;
    case 'end-of-set':
      return 'This is the last scene of the last song.';
    case 'start-of-set':
      return 'This is the first scene of the first song.';
    case 'no-songs':
      return 'There is no song in this set yet.';
    case 'nothing-assigned':
      return 'Nothing is assigned to this switch in this bank.';
    case 'panic':
      return `Panic: notes ended, dampers lifted${silenced(world)}.`;
    case 'pressed':
      return `${note.label} pressed.`;
    case 'recalled': {
      const song = world.songs[note.songIndex]?.song;
      const scene = song?.scenes[note.sceneIndex];
      return `${song?.name ?? ''}, ${scene?.name ?? ''}: settled in ${milliseconds(note.settlesInMs)}.`;
    }
  }
}

/**
 * Where panic speaks, and how. Example:
 * `, all sound off at Crossbar Out A, channels 1, 3 and 5; Crossbar Out B, channel 16; only all notes off at Crossbar
 * Out B, channel 2`.
 */
function silenced({ show, channelsBehind }: World): string {
  const saying = (words: string, wantsSoundOff: boolean) => {
    const at = [...channelsBehind].flatMap(([portId, channels]) => {
      const numbers = channels.filter((c) => c.soundOff === wantsSoundOff).map((c) => String(c.channel + 1));
      const last = numbers.pop();
      if (last === undefined) return [];
      const those = numbers.length === 0 ? `channel ${last}` : `channels ${numbers.join(', ')} and ${last}`;
      return `${portName(show.rig, portId)}, ${those}`;
    });
    return at.length === 0 ? '' : `${words} at ${at.join('; ')}`;
  };
  return saying(', all sound off', true) + saying('; only all notes off', false);
}

/** A time in words. Example: `42.64 ms`, `1.20 s`. */
export const milliseconds = (ms: number): string =>
  ms >= 1000 ? `${(ms / 1000).toFixed(2)} s` : `${Number(ms.toFixed(2))} ms`;
