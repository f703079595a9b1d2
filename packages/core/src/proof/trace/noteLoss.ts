import type { LiveNote } from '../../engine';
import { lookIn, lost, type Loss } from './hops';
import { noteSentence } from '../noteSentence';
import type { TraceRig } from './traceRig';
import { whyNoWay } from './whyNoWay';

/** What the engine said in place of sending, as a loss: where, and what mends it. `null` where nothing was lost. */
export function noteLoss(rig: TraceRig, note: LiveNote): Loss | null {
  const { world } = rig;
  const sentence = noteSentence(note, world);
  const found = 'functionId' in note && note.functionId ? world.functions.get(note.functionId) : undefined;
  switch (note.code) {
    case 'function-gone':
      return lost('function', 'gone', sentence, lookIn('floor'));
    case 'device-gone':
      return lost('device', 'gone', sentence, lookIn('floor'));
    case 'route-gone':
      return lost('route', 'gone', sentence, lookIn('floor'));
    case 'bank-gone':
    case 'page-gone':
      return lost('action', 'gone', sentence, lookIn('floor'));
    case 'no-tracks':
      return lost('action', 'gone', sentence, lookIn('rig'));
    case 'no-way': {
      const device = world.show.rig.devices.find((d) => d.id === note.deviceId);
      return device ? whyNoWay(world.show.rig, device, 'device') : lost('device', 'gone', sentence);
    }
    case 'value-unknown':
      return note.isSent
        ? null
        : lost('function', 'waits-for-pickup', sentence, lookIn('rig', found?.device.id ?? null));
    case 'value-asked':
      return null;
    case 'value-refused':
      return lost('function', 'value-refused', sentence, lookIn('rig', found?.device.id ?? null));
    case 'number-kept':
      return lost('function', 'reserved', sentence, lookIn('rig', note.deviceId));
    case 'function-reserved':
      return lost('function', 'reserved', sentence, lookIn('rig', found?.device.id ?? null));
    case 'not-under-setting': {
      const option = found?.fn.under ?? null;
      return lost(
        'function',
        'other-mode',
        sentence,
        found && option !== null
          ? { kind: 'setting', deviceId: found.device.id, option, text: `Set it to ${option}` }
          : null,
      );
    }
    case 'port-off':
      return rig.shutOut(note.portId);
    case 'no-such-scene':
    case 'no-songs':
      return lost('action', 'nowhere-to-go', sentence, lookIn('songs'));
    case 'end-of-set':
    case 'start-of-set':
      return lost('action', 'nowhere-to-go', sentence);
    default:
      return null;
  }
}
