import type { HereThing, Lamp, ShowTarget, SongTarget } from '../../floor';
import type { Message } from '../../midi';
import type { Passage } from '../../routing';
import type { StageView } from './liveState';
import type { Bookmark } from './bookmark';

/** When something happened, in ms, monotonic, on whatever clock the host keeps. */
type Timed = {
  readonly atMs: number;
  /**
   * When what this causes really leaves, where that is later: the timer came late, or the machine slept. Everything
   * due is still done in its order; what moves on a grid skips what it missed, and a device that is told its program
   * late is waited for.
   */
  readonly leavesMs?: number;
};

/** What happens to a live rig. */
export type LiveEvent = Timed &
  (
    | /** A message arrived at a port of the computer. */ {
        readonly kind: 'message';
        readonly portId: string;
        readonly message: Message;
      }
      /** Time passed: what was due is done. */
    | { readonly kind: 'tick' }
    /** Something was pressed on the screen. */
    | { readonly kind: 'command'; readonly command: Command }
  );

/** The next bank or page, the one before, or one by its id. */
export type PageTarget = 'up' | 'down' | { readonly bankId: string };

export type Command =
  | { readonly kind: 'scene'; readonly to: 'next' | 'previous' | 'again' }
  /** A scene by its place in the sheet. */
  | { readonly kind: 'go'; readonly songIndex: number; readonly sceneIndex: number }
  | { readonly kind: 'song'; readonly to: SongTarget }
  /** Begins or ends the set, or goes on or back in it. */
  | { readonly kind: 'show'; readonly to: ShowTarget }
  | { readonly kind: 'here'; readonly thing: HereThing; readonly to: 'on' | 'off' | 'toggle' }
  | { readonly kind: 'view'; readonly to: 'next' | 'previous' | StageView }
  /** A key of the computer, by its usage number, goes down or up. */
  | { readonly kind: 'key'; readonly number: number; readonly isDown: boolean }
  | { readonly kind: 'bank'; readonly boardId: string; readonly to: PageTarget }
  /** A page of a group. */
  | { readonly kind: 'page'; readonly boardId: string; readonly groupId: string; readonly to: PageTarget }
  /** A control is pressed on the screen: `velocity` 1–127 down, 0 up. */
  | { readonly kind: 'switch'; readonly controlId: string; readonly velocity: number }
  /** A control is moved on the screen: its travel, 0–127. */
  | { readonly kind: 'move'; readonly controlId: string; readonly travel: number }
  /** An encoder is turned on the screen by some detents, to the right above 0. */
  | { readonly kind: 'turn'; readonly controlId: string; readonly detents: number }
  /** A board was plugged in again: its lamps are told anew. */
  | { readonly kind: 'lamps' }
  | { readonly kind: 'set'; readonly functionId: string; readonly value: number }
  | { readonly kind: 'tap' }
  /** Runs the time line of the song in play, or stops it. */
  | { readonly kind: 'line'; readonly to: 'start' | 'continue' | 'stop' | 'toggle' }
  /** Goes to a cue by its place in time, from 0, and does what it says. */
  | { readonly kind: 'cue'; readonly index: number }
  /** Brings the time line of the song in play to a beat of it, from 0. */
  | { readonly kind: 'locate'; readonly beat: number }
  | { readonly kind: 'loop'; readonly to: 'on' | 'off' | 'toggle' }
  /** A route or its gate is switched by hand; `toggle` is the other way than it is. */
  | {
      readonly kind: 'route';
      readonly routeId: string;
      readonly part: 'route' | 'gate';
      readonly to: 'on' | 'off' | 'toggle';
    }
  /** Learning a control begins or ends: meanwhile what is pressed does nothing. */
  | { readonly kind: 'learn'; readonly on: boolean }
  /** A port was unplugged: what it holds ends. */
  | { readonly kind: 'port-lost'; readonly portId: string }
  /**
   * A port is there: for the first time, or again. What could not be ended while it was away ends; where it is told
   * again, what the scene in play says of what lies behind it is sent once more.
   */
  | { readonly kind: 'port-found'; readonly portId: string; readonly isToldAgain: boolean }
  /** The page was away: the evening goes on where it stood, and nothing is sent. */
  | { readonly kind: 'resume'; readonly bookmark: Bookmark; readonly awayMs: number }
  | { readonly kind: 'panic' };

/** What the host has to do, in this order. */
export type Effect =
  | {
      readonly kind: 'send';
      /** When it leaves. */
      readonly atMs: number;
      /** When it was to leave: what it follows from was due, or arrived, then. */
      readonly dueMs: number;
      readonly portId: string;
      readonly message: Message;
      /** The function it drives, where one does. */
      readonly functionId: string | null;
      /** The route that sends it, `null` where none does. */
      readonly routeId: string | null;
    }
  /** What a route did with a message that came by a port. */
  | ({ readonly kind: 'routed'; readonly portId: string } & Passage)
  | { readonly kind: 'lamp'; readonly controlId: string; readonly lamp: Lamp }
  /** How the rig stands now belongs into a scene: the host asks `captureFor` and keeps it. */
  | { readonly kind: 'capture'; readonly songId: string; readonly sceneId: string }
  /** Step again with a tick at this time, which is later than now. */
  | { readonly kind: 'wake'; readonly atMs: number }
  | { readonly kind: 'note'; readonly note: LiveNote };

/** Why something did not happen, or what did: for the log and the screen. */
export type LiveNote =
  | { readonly code: 'function-gone'; readonly functionId: string }
  /** No cable leads there; `functionId` is empty for a plain message. */
  | { readonly code: 'no-way'; readonly deviceId: string; readonly functionId: string }
  | { readonly code: 'device-gone' | 'page-gone' | 'no-tracks' | 'route-gone' }
  /** The same message keeps coming back: it is stopped. */
  | { readonly code: 'route-loop'; readonly routeId: string }
  | { readonly code: 'function-reserved' | 'not-under-setting'; readonly functionId: string }
  /** The port is not enabled for playing; `functionId` is `null` for what came in by it. */
  | { readonly code: 'port-off'; readonly portId: string; readonly functionId: string | null }
  /** An encoder was turned, and nobody knows where its function stands; `isSent` where it began at its range's start. */
  | {
      readonly code: 'value-unknown';
      readonly controlId: string;
      readonly functionId: string;
      readonly isSent: boolean;
    }
  /** Nothing told whether a function was on, so that a press switched it off. */
  | { readonly code: 'switched-off-unknown'; readonly functionId: string }
  /** The device was asked where its function stands, since an encoder was turned or a switch pressed. */
  | { readonly code: 'value-asked'; readonly controlId: string; readonly functionId: string }
  /** A controller number that its receiver keeps for its own hardware. */
  | { readonly code: 'number-kept'; readonly deviceId: string; readonly number: number }
  | { readonly code: 'value-refused'; readonly functionId: string; readonly value: number }
  | { readonly code: 'no-such-scene'; readonly index: number; readonly sceneCount: number }
  | { readonly code: 'end-of-set' | 'start-of-set' | 'no-songs' | 'nothing-assigned' | 'bank-gone' | 'panic' }
  /** There is no cue to go to. */
  | { readonly code: 'no-such-cue' }
  | { readonly code: 'no-loop' | 'no-encore' }
  | { readonly code: 'set-began' | 'set-ended' | 'set-over' | 'set-runs' | 'set-runs-not' | 'no-scene' }
  /** What stood otherwise than the scene said is part of it now, or could not be kept. */
  | { readonly code: 'captured'; readonly count: number }
  | { readonly code: 'capture-lost' }
  | { readonly code: 'pause'; readonly pauseId: string; readonly name: string }
  /** A step so soon after the one before that it counts as the same. */
  | { readonly code: 'double-step'; readonly afterMs: number }
  | { readonly code: 'cue'; readonly cueId: string; readonly name: string }
  /** The clock that is followed has stopped coming, or comes again. */
  | { readonly code: 'clock-lost' | 'clock-found'; readonly portId: string }
  | { readonly code: 'pressed'; readonly controlId: string; readonly label: string }
  | {
      readonly code: 'recalled';
      readonly songIndex: number;
      readonly sceneIndex: number;
      readonly settlesInMs: number;
    };
