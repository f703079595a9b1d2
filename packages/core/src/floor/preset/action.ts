import type { PlainCurve } from '../travel/curve';

/** How long an action waits after its gesture: 0 and above. Beats are counted at the tempo of that moment. */
export type ActionDelay = { readonly amount: number; readonly unit: 'ms' | 'beats' };

/** Of gestures that alternate: on the first, third, fifth … or on the second, fourth … */
export type EveryOther = 'odd' | 'even';

/**
 * What every action has: an id of its own so that lists can be edited safely, its delay, whether it is left out, and
 * where the control alternates, on which of its gestures it is done.
 */
type ActionHead = {
  readonly id: string;
  readonly delay?: ActionDelay | undefined;
  readonly isOff?: boolean | undefined;
  readonly every?: EveryOther | undefined;
};

type ActionBody =
  | { readonly kind: 'set'; readonly functionId: string; readonly value: number }
  | { readonly kind: 'toggle'; readonly functionId: string }
  /** Arms exactly this track: every other one that its device arms by message is let go. */
  | { readonly kind: 'arm-only'; readonly functionId: string }
  /** Switches a route, or opens and closes its gate. */
  | {
      readonly kind: 'route';
      readonly routeId: string;
      readonly part: 'route' | 'gate';
      readonly to: 'on' | 'off' | 'toggle';
    }
  /** Arms exactly the track after or before the one that is armed, in the order of the chart, round at the ends. */
  | { readonly kind: 'arm-step'; readonly deviceId: string; readonly to: 'next' | 'previous' }
  /** Switches its function on, and those of all others that name the same circle off. */
  | { readonly kind: 'one-of'; readonly functionId: string; readonly circle: string }
  /** One value when its gesture fires, another when the switch goes up. */
  | { readonly kind: 'momentary'; readonly functionId: string; readonly down: number; readonly up: number }
  /** The next of a list of values each time, from wherever the function is, if that is in the list; or its first. */
  | {
      readonly kind: 'step';
      readonly functionId: string;
      readonly values: readonly number[];
      readonly direction: 'forward' | 'back' | 'reset';
      readonly atEnd: 'round' | 'stop';
    }
  /** Moves a function over time; from where it is when `from` is `null` or another ramp moves it already. */
  | {
      readonly kind: 'ramp';
      readonly functionId: string;
      readonly from: number | null;
      readonly to: number;
      readonly time: RampTime;
      readonly curve: PlainCurve;
    }
  /**
   * One message by its number, whether or not a chart names it; `channel` 0–15 or `null` for the device's own. A note
   * sounds as long as the switch is down, with `value` as its velocity where it is not struck.
   */
  | ({ readonly kind: 'message'; readonly deviceId: string; readonly channel: number | null } & PlainMessage)
  /** Complete MIDI messages as typed, 0–255 each, to a port at the computer. */
  | { readonly kind: 'raw'; readonly portId: string; readonly bytes: readonly number[] }
  /** MIDI clock at the tempo in play, to a port at the computer. */
  | { readonly kind: 'clock'; readonly portId: string; readonly to: 'start' | 'continue' | 'stop' }
  | { readonly kind: 'bank'; readonly to: BankTarget }
  | { readonly kind: 'page'; readonly groupId: string; readonly to: BankTarget }
  | { readonly kind: 'scene'; readonly to: SceneTarget }
  | { readonly kind: 'song'; readonly to: SongTarget }
  /**
   * Begins or ends the set, or goes on or back in it by whatever comes: a scene, a song, a break, its end. Encore is
   * the first song of the set that is played as one.
   */
  | { readonly kind: 'show'; readonly to: ShowTarget }
  /** Turns what the stage shows. */
  | { readonly kind: 'view'; readonly to: 'next' | 'previous' }
  /** Takes over into the scene in play how the rig stands now. */
  | { readonly kind: 'capture' }
  /** Runs the time line of the song in play from its beginning, from where it stands, or stops it there. */
  | { readonly kind: 'line'; readonly to: 'start' | 'continue' | 'stop' | 'toggle' }
  /** Goes to a cue of the song in play and does what it says. */
  | { readonly kind: 'cue'; readonly to: Target }
  /** Plays the loop of the song in play again and again, or goes on after it. */
  | { readonly kind: 'loop'; readonly to: 'on' | 'off' | 'toggle' }
  | { readonly kind: 'tap' }
  /** Switches something that this computer does for whoever plays. */
  | { readonly kind: 'here'; readonly thing: HereThing; readonly to: 'on' | 'off' | 'toggle' }
  /** The tempo that is written where the song stands, in place of one that was tapped. */
  | { readonly kind: 'song-tempo' }
  | { readonly kind: 'panic' };

/** 0 and above. Beats follow the tempo, also when it changes on the way. */
export type RampTime = { readonly amount: number; readonly unit: 's' | 'beats' };

/** `number` and `value` 0–127; a program has no value. */
export type PlainMessage = {
  readonly send: 'note' | 'controller' | 'program';
  readonly number: number;
  readonly value: number;
};

/** One thing that a gesture causes. */
export type Action = ActionBody extends infer B ? (B extends ActionBody ? ActionHead & B : never) : never;

/** What an action does, before it has an id and stands in a list. */
export type LooseAction = ActionBody;

/** Whether the actions of a gesture take turns. */
export const alternates = (actions: readonly Action[]): boolean =>
  actions.some((a) => a.every !== undefined && !a.isOff);

/** Whether an action is done by a gesture that alternates. @param isEven whether it is the second, fourth … time. */
export const isDoneBy = ({ every }: Action, isEven: boolean): boolean =>
  every === undefined || (every === 'even') === isEven;

/** The function that an action moves, or `null`. */
export const functionOfAction = (action: Action): string | null =>
  'functionId' in action ? action.functionId : null;

export type ActionKind = Action['kind'];

export type ShowTarget = 'begin' | 'end' | 'next' | 'previous' | 'encore';

/**
 * What this computer does for whoever plays: a click at each beat, a dark stage (daylight else), and hands off, where
 * nothing is sent to real ports.
 */
export const HERE_THINGS = ['click', 'blackout', 'hands-off'] as const;
export type HereThing = (typeof HERE_THINGS)[number];

/** Up and down go round at the ends. */
export type BankTarget =
  { readonly kind: 'up' } | { readonly kind: 'down' } | { readonly kind: 'bank'; readonly bankId: string };

/** `index` counts from 0 what the song in play has. */
export type Target =
  { readonly kind: 'next' } | { readonly kind: 'previous' } | { readonly kind: 'at'; readonly index: number };

/**
 * Next after a song's last scene is the next song's first. A cue names a scene of its own song. Again is the scene in
 * play, with everything that it says.
 */
export type SceneTarget =
  Target | { readonly kind: 'is'; readonly sceneId: string } | { readonly kind: 'again' };

/** Of the running order: beside the song in play, that song from its beginning, or by its place from 0. */
export type SongTarget = 'next' | 'previous' | 'again' | { readonly index: number };
