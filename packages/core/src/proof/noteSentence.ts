import type { LiveNote, World } from '../engine';
import { portName } from '../routing';
import type { Reached } from '../show';
import { there } from '../sure';

/** What a note of the engine says to a person: what happened or did not, and what to do. */
export function noteSentence(note: LiveNote, world: World): string {
  const { [note.code]: says }: Readonly<Record<string, Says<LiveNote>>> = SENTENCES;
  return there(says)(note, namesOf(note, world));
}

/** Names of what a note is about. */
type Names = {
  readonly world: World;
  /** Device and function. */
  readonly fn: string;
  readonly device: string | undefined;
  readonly reached: Reached | undefined;
  readonly control: string;
  readonly port: string;
};

function namesOf(note: LiveNote, world: World): Names {
  const reached = 'functionId' in note && note.functionId ? world.functions.get(note.functionId) : undefined;
  const control = 'controlId' in note ? world.controls.get(note.controlId)?.control.name : undefined;
  return {
    world,
    reached,
    fn: reached ? `${reached.device.name} ${reached.fn.name}` : 'a function that is gone',
    device: 'deviceId' in note ? world.show.rig.devices.find((d) => d.id === note.deviceId)?.name : undefined,
    control: control ?? 'The encoder',
    port: 'portId' in note ? portName(world.show.rig, note.portId) : '',
  };
}

/** Written as a method, so that a sentence for one code goes into a table of sentences for any. */
type Says<N> = { says(note: N, names: Names): string }['says'];

const NO_PAGE = () => 'The bank or page that this goes to is gone. Choose another one in Floor.';

const SENTENCES: { readonly [C in LiveNote['code']]: Says<LiveNote & { readonly code: C }> } = {
  'function-gone': () => 'The function that this moves is gone from its chart. Choose another one.',
  'device-gone': () => 'The device that this goes to is gone from the rig. Choose another one.',
  'bank-gone': NO_PAGE,
  'page-gone': NO_PAGE,
  'route-gone': () => 'The route that this switches is gone. Choose another one in Floor.',
  'route-loop': ({ routeId }, { world }) =>
    `${world.routes.byId.get(routeId)?.name ?? 'A route'} was stopped: the same message keeps coming back to it. Look in Routes for what feeds it.`,
  'no-tracks': () => 'Nothing to arm: no function of this device arms a track. Say so in its chart.',
  'no-way': ({ functionId }, { fn, device }) =>
    functionId
      ? `${fn} was not sent: no cable leads from the computer to ${device ?? 'it'}. Mend it in Rig.`
      : `${device ?? 'This board'} reaches nothing: no cable leads from it to the computer. Mend it in Rig.`,
  'value-unknown': ({ isSent }, { fn, control }) =>
    isSent
      ? `Where ${fn} stood was not known, so ${control} began where its range begins.`
      : `Where ${fn} stands is not known, so ${control} moves nothing yet. Recall a scene that sets it, or write its value at power-on into the chart.`,
  'value-asked': (_, { reached, control }) =>
    `${control} asked ${reached?.device.name ?? 'the device'} where ${reached?.fn.name ?? 'its function'} stands; what was meant follows once it has answered.`,
  'switched-off-unknown': (_, { fn }) =>
    `${fn} was not known, so it is off now. Press again for on; a scene that sets it makes it known.`,
  'value-refused': ({ value }, { fn }) => `${fn} does not take ${value}. Choose a value that it has.`,
  'number-kept': ({ number }, { device }) =>
    `CC ${number} was not sent: ${device ?? 'the device'} keeps this number for its own hardware. Take a free one.`,
  'function-reserved': (_, { fn, reached }) =>
    `${fn} was not sent: ${reached?.device.name ?? 'the device'} keeps this number for its own hardware. Take a free one.`,
  'not-under-setting': (_, { fn, reached }) =>
    reached
      ? `${reached.device.name} has ${reached.fn.name} only while ${reached.device.setting?.name ?? 'its setting'} is “${reached.fn.under ?? ''}”.`
      : `${fn} was not sent.`,
  'port-off': ({ functionId }, { fn, port }) =>
    functionId
      ? `${fn} was not sent: ${port} is not enabled for playing. Mend it in Rig, under Ports.`
      : `${port} is not enabled for playing, so nothing passes it. Mend it in Rig, under Ports.`,
  'no-such-cue': () => 'There is no such cue in this song. Its cues stand in Songs, under Time.',
  'set-began': (_, { world }) => `The set has begun${world.show.setName ? `: ${world.show.setName}` : ''}.`,
  'set-ended': () => 'The set has ended.',
  'set-over': () => 'The set is over. To play it again, begin it.',
  'set-runs': () => 'The set runs already.',
  'set-runs-not': () => 'The set does not run: begin it first.',
  captured: ({ count }) =>
    count === 0
      ? 'The scene says already how everything stands.'
      : `Captured: ${count} ${count === 1 ? 'value' : 'values'} taken into the scene.`,
  'capture-lost': () =>
    'Nothing was captured: the song was not fetched from the server since this page was opened.',
  'no-scene': () => 'No scene is in play yet.',
  pause: ({ name }) => `${name}.`,
  'double-step': ({ afterMs }) =>
    `A step ${Math.round(afterMs)} ms after the same one did not count. How far apart they have to be is said in Sets.`,
  'no-encore': () => 'This set has no encore. Mark one in Sets.',
  'no-loop': () => 'This song has no loop. Write one in Songs, under Time.',
  cue: ({ name }) => `Cue ${name || 'without a name'}.`,
  'clock-lost': (_, { port }) => `No clock comes by ${port} any more.`,
  'clock-found': (_, { port }) => `The clock of ${port} is back.`,
  'no-such-scene': ({ index, sceneCount }) =>
    index < 0
      ? 'The scene that this goes to is not in the song in play.'
      : `There is no scene ${index + 1} in this song; it has ${sceneCount}.`,
  'end-of-set': () => 'This is the last scene of the last song.',
  'start-of-set': () => 'This is the first scene of the first song.',
  'no-songs': () => 'There is no song in this set yet.',
  'nothing-assigned': () => 'Nothing is assigned to this switch in this bank.',
  panic: (_, { world }) => `Panic: notes ended, dampers lifted${silenced(world)}.`,
  pressed: ({ label }) => `${label} pressed.`,
  recalled({ songIndex, sceneIndex, settlesInMs }, { world }) {
    const song = world.songs[songIndex]?.song;
    return `${song?.name ?? ''}, ${song?.scenes[sceneIndex]?.name ?? ''}: settled in ${milliseconds(settlesInMs)}.`;
  },
};

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
