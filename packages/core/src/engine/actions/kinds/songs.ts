import { goToScene, goToSongAt } from '../../song/navigate';
import { turnView, walkSet, wantCapture } from '../../song/setRun';
import { noMessage } from '../sentRow';
import { GOES_NOWHERE, lit, LIT_WHILE_DOWN, type ActionTraits } from '../traits';

const PLAIN = {
  ...GOES_NOWHERE,
  isOwn: false,
  byBoard: () => 'host',
  isInCues: true,
  leadsAway: false,
} satisfies Partial<ActionTraits>;

/** Goes to a scene of the song in play. */
export const SCENE: ActionTraits<'scene'> = {
  ...PLAIN,
  act: (live, { to }) => goToScene(live, to),
  label({ to }, names) {
    if (to.kind === 'is') return 'Scene';
    if (to.kind === 'again') return 'Scene again';
    if (to.kind !== 'at') return to.kind === 'next' ? 'Next' : 'Back';
    return names.sceneAt(to.index) ?? `Scene ${to.index + 1}`;
  },
  deed({ to }, names) {
    if (to.kind === 'is') return `go to ${names.scene(to.sceneId) ?? 'a scene that is gone'}`;
    if (to.kind === 'again') return 'recall the scene again';
    return to.kind === 'at' ? `go to scene ${to.index + 1}` : `go to the ${to.kind} scene`;
  },
  row: ({ to }, { scenesAtMost }) =>
    noMessage(
      'goes to a scene',
      to.kind === 'at' && scenesAtMost !== null && to.index >= scenesAtMost
        ? `No song has a scene ${to.index + 1}.`
        : null,
    ),
  light({ world, state, down }, { to }) {
    if (to.kind === 'is') return lit(state.position.sceneId === to.sceneId);
    if (to.kind !== 'at') return lit(down);
    const { sceneId, entryId } = state.position;
    const song = world.songs[world.songAt.get(entryId ?? '') ?? 0]?.song;
    return lit(sceneId !== null && song?.scenes[to.index]?.id === sceneId);
  },
  follows: ({ to }) => (to.kind === 'is' || to.kind === 'at' ? 'position' : 'held'),
  steps: ({ to }) => to.kind === 'next' || to.kind === 'previous',
  leads: 'on',
};

/** Goes to a song of the running order. */
export const SONG: ActionTraits<'song'> = {
  ...PLAIN,
  ...LIT_WHILE_DOWN,
  act: (live, { to }) => goToSongAt(live, to),
  label: ({ to }) =>
    typeof to === 'object'
      ? `Song ${to.index + 1}`
      : { next: 'Next song', previous: 'Previous song', again: 'Song again' }[to],
  deed({ to }) {
    if (typeof to === 'object') return `go to song ${to.index + 1}`;
    return to === 'again' ? 'begin the song again' : `go to the ${to} song`;
  },
  row({ to }) {
    if (typeof to === 'object') return noMessage(`goes to song ${to.index + 1}`);
    return noMessage(to === 'again' ? 'begins the song again' : `goes to the ${to} song`);
  },
  steps: ({ to }) => to === 'next' || to === 'previous',
  leadsAway: true,
  leads: 'on',
};

/** Begins or ends the set, or goes on or back in it. */
export const SHOW: ActionTraits<'show'> = {
  ...PLAIN,
  act: (live, { to }) => walkSet(live, to),
  label: ({ to }) => ({ begin: 'Begin', end: 'End', next: 'On', previous: 'Back', encore: 'Encore' })[to],
  deed: ({ to }) =>
    ({
      begin: 'begin the set',
      end: 'end the set',
      next: 'go on in the set',
      previous: 'go back in the set',
      encore: 'go to the encore',
    })[to],
  row: ({ to }) =>
    noMessage(
      {
        begin: 'begins the set',
        end: 'ends the set',
        next: 'goes to the next thing of the set',
        previous: 'goes to the thing before in the set',
        encore: 'goes to the encore',
      }[to],
    ),
  light: ({ state, down }, { to }) => lit(to === 'begin' ? state.run !== null : down),
  follows: ({ to }) => (to === 'begin' ? 'run' : 'held'),
  isInCues: false,
  steps: () => true,
  leads: 'on',
};

/** Turns what the stage shows. */
export const VIEW: ActionTraits<'view'> = {
  ...PLAIN,
  ...LIT_WHILE_DOWN,
  act: (live, { to }) => turnView(live, to),
  label: ({ to }) => (to === 'next' ? 'Next view' : 'View back'),
  deed: ({ to }) => `turn to the ${to} view`,
  row: ({ to }) => noMessage(`turns the stage to the ${to} view`),
  isInCues: false,
};

/** Takes over into the scene in play how the rig stands now. */
export const CAPTURE: ActionTraits<'capture'> = {
  ...PLAIN,
  ...LIT_WHILE_DOWN,
  act: wantCapture,
  label: () => 'Capture',
  deed: () => 'capture into the scene',
  row: () => noMessage('captures how the rig stands into the scene'),
  isInCues: false,
};
