import { goToCue, runLine, switchLoop } from '../../time/line';
import { backToSongTempo } from '../../time/songTempo';
import { takeTap } from '../../time/tempo';
import { noMessage } from '../sentRow';
import { GOES_NOWHERE, lit, LIT_WHILE_DOWN, startsOrStops, type ActionTraits } from '../traits';

const PLAIN = {
  ...GOES_NOWHERE,
  isOwn: false,
  byBoard: () => 'host',
  isInCues: true,
  leadsAway: true,
} satisfies Partial<ActionTraits>;

/** Runs the time line of the song in play, or stops it. */
export const LINE: ActionTraits<'line'> = {
  ...PLAIN,
  act: (live, { to }) => runLine(live, to),
  label: ({ to }) => ({ start: 'Start', continue: 'Continue', stop: 'Stop', toggle: 'Run' })[to],
  deed: ({ to }) => (to === 'toggle' ? 'run or stop the time line' : `${to} the time line`),
  row: ({ to }) =>
    noMessage(
      {
        start: 'starts the time line',
        continue: 'continues the time line',
        stop: 'stops the time line',
        toggle: 'runs or stops the time line',
      }[to],
    ),
  light: ({ state, down }, { to }) => lit(to === 'stop' ? down : (state.line?.isRunning ?? false)),
  follows: ({ to }) => (to === 'stop' ? 'held' : 'line'),
  leads: 'beside',
  stands: (_world, { line }, first, second) => startsOrStops(first.to, second.to, line?.isRunning ?? false),
};

/** Goes to a cue of the song in play and does what it says. */
export const CUE: ActionTraits<'cue'> = {
  ...PLAIN,
  ...LIT_WHILE_DOWN,
  act: (live, { to }) => goToCue(live, to),
  label({ to }) {
    if (to.kind === 'at') return `Cue ${to.index + 1}`;
    return to.kind === 'next' ? 'Next cue' : 'Cue back';
  },
  deed: ({ to }) => (to.kind === 'at' ? `go to cue ${to.index + 1}` : `go to the ${to.kind} cue`),
  row: ({ to }) => noMessage(to.kind === 'at' ? `goes to cue ${to.index + 1}` : `goes to the ${to.kind} cue`),
  leads: 'beside',
};

/** Plays the loop of the song in play again and again, or goes on after it. */
export const LOOP: ActionTraits<'loop'> = {
  ...PLAIN,
  act: (live, { to }) => switchLoop(live, to),
  label: ({ to }) => (to === 'toggle' ? 'Loop' : `Loop ${to}`),
  deed: ({ to }) => (to === 'toggle' ? 'loop on or off' : `loop ${to}`),
  row: ({ to }) => noMessage(to === 'toggle' ? 'switches the loop' : `switches the loop ${to}`),
  light: ({ state }) => lit(state.line?.isLooping ?? false),
  follows: () => 'line',
};

/** The tempo that is written where the song stands. */
export const SONG_TEMPO: ActionTraits<'song-tempo'> = {
  ...PLAIN,
  ...LIT_WHILE_DOWN,
  act: backToSongTempo,
  label: () => 'Song tempo',
  deed: () => 'go back to the tempo of the song',
  row: () => noMessage('goes back to the tempo of the song'),
  leadsAway: false,
};

/** The time between two taps is a beat. */
export const TAP: ActionTraits<'tap'> = {
  ...PLAIN,
  ...LIT_WHILE_DOWN,
  act: takeTap,
  label: () => 'Tap',
  deed: () => 'tap the tempo',
  row: () => noMessage('taps the tempo'),
  byBoard: () => null,
  isInCues: false,
  leadsAway: false,
};
