import { noteName, type MiddleC } from '../midi';
import type { ControlMessage } from '../floor';
import type { CheckResult, Found } from './lineCheck';
import type { CheckThing } from './things';

/** How a thing was found, in a word or two. */
export const FOUND_WORDS: Record<Found, string> = {
  right: 'right',
  'wrong-number': 'wrong number',
  'wrong-channel': 'wrong channel',
  nothing: 'nothing came',
  twice: 'came twice',
  'never-let-go': 'never let go',
  'short-travel': 'does not reach its ends',
  'lamp-inverted': 'lamp the wrong way round',
  'no-answer': 'does not answer',
  'put-off': 'put off',
};

const messageWords = ({ kind, number }: ControlMessage, middleC: MiddleC): string => {
  switch (kind) {
    case 'controller':
    case 'controller-14':
      return `controller ${number}`;
    case 'note':
      return `note ${number} ${noteName(number, middleC)}`;
    case 'program':
      return `program ${number}`;
    case 'rpn':
    case 'nrpn':
      return `${kind.toUpperCase()} ${number}`;
    case 'key':
      return `key ${number}`;
    case 'pitch-bend':
      return 'pitch bend';
    case 'channel-pressure':
      return 'channel pressure';
  }
};

/** What was found of a thing and what to do, as a sentence; empty where it is right. */
export function checkSentence(thing: CheckThing, result: CheckResult, middleC: MiddleC): string {
  if (thing.kind === 'device')
    return result.found === 'no-answer'
      ? `${thing.name} did not answer. Is it switched on, are both cables there?`
      : '';
  const { control, channel } = thing;
  const wanted = messageWords(control.sends, middleC);
  switch (result.found) {
    case 'right':
    case 'no-answer':
      return '';
    case 'wrong-number':
      return `It sends ${result.heard ? messageWords(result.heard.sends, middleC) : 'something else'} in place of ${wanted}. Learn it anew, or set it so on the board.`;
    case 'wrong-channel':
      return `It sends ${wanted} on channel ${(result.heard?.channel ?? 0) + 1} in place of ${channel + 1}. Learn it anew, or set the board to channel ${channel + 1}.`;
    case 'nothing':
      return `Nothing came; ${wanted} on channel ${channel + 1} should: look at its plug, its cable, and the bank of the board.`;
    case 'twice':
      return 'Each press comes twice. Its contacts bounce (give it a debounce time), or two cables or routes bring the same.';
    case 'never-let-go':
      return 'It is never let go: nothing comes when the foot lifts. Say that it sends going down only, or set it to momentary.';
    case 'short-travel': {
      const { low, high } = result.reach ?? { low: 0, high: 127 };
      return `It goes from ${Math.round((low / 127) * 100)} % to ${Math.round((high / 127) * 100)} % of its travel. Calibrate it anew.`;
    }
    case 'lamp-inverted':
      return 'Its lamp is dark when it should be lit. Swap the values that light it, under Floor, its lamp.';
    case 'put-off':
      return 'Put off.';
  }
}
