import { controller, encode, noteOff, noteOn } from '../midi';

/** What a control of a foot board sends: a controller or a note, 0–127. */
type Sends = { readonly kind: 'controller' | 'note'; readonly number: number };

/**
 * The bytes of a momentary switch going down or up: 127 and 0 (a note goes off with its note-off).
 * @param channel 0–15. Source: common practice, no source.
 */
export function switchBytes(channel: number, sends: Sends, down: boolean): number[] {
  if (sends.kind === 'controller') return encode(controller(channel, sends.number, down ? 127 : 0));
  return encode(down ? noteOn(channel, sends.number, 127) : noteOff(channel, sends.number));
}

/** The bytes of a pedal at a position, 0–127. */
export const pedalBytes = (channel: number, sends: Sends, position: number): number[] =>
  encode(
    sends.kind === 'controller'
      ? controller(channel, sends.number, position)
      : noteOn(channel, sends.number, position),
  );
