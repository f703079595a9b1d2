import { channel, data7, value14, type Channel, type Data7, type Value14 } from './numbers';

/**
 * Every message of MIDI 1.0, one variant each.
 * Channels 0–15, data 0–127, `pitch-bend` and `song-position` 0–16383 (bend centre 8192).
 * Source: MIDI 1.0 Detailed Specification, tables I–VI.
 */
export type Message = ChannelMessage | SystemCommonMessage | RealTimeMessage;

export type ChannelMessage =
  | { readonly kind: 'note-off'; readonly channel: Channel; readonly note: Data7; readonly velocity: Data7 }
  | { readonly kind: 'note-on'; readonly channel: Channel; readonly note: Data7; readonly velocity: Data7 }
  | {
      readonly kind: 'poly-pressure';
      readonly channel: Channel;
      readonly note: Data7;
      readonly pressure: Data7;
    }
  | {
      readonly kind: 'controller';
      readonly channel: Channel;
      readonly controller: Data7;
      readonly value: Data7;
    }
  | { readonly kind: 'program'; readonly channel: Channel; readonly program: Data7 }
  | { readonly kind: 'channel-pressure'; readonly channel: Channel; readonly pressure: Data7 }
  | { readonly kind: 'pitch-bend'; readonly channel: Channel; readonly value: Value14 };

export type SystemCommonMessage =
  /** `data` is what stands between F0 and F7, every byte 0–127. */
  | { readonly kind: 'sysex'; readonly data: Uint8Array }
  | { readonly kind: 'quarter-frame'; readonly data: Data7 }
  /** In sixteenths (six clocks each) since the start of the song. */
  | { readonly kind: 'song-position'; readonly sixteenths: Value14 }
  | { readonly kind: 'song-select'; readonly song: Data7 }
  | { readonly kind: 'tune-request' };

export type RealTimeMessage = {
  readonly kind: 'clock' | 'start' | 'continue' | 'stop' | 'active-sensing' | 'reset';
};

export type MessageKind = Message['kind'];

export const noteOn = (ch: number, note: number, velocity: number): Message => ({
  kind: 'note-on',
  channel: channel(ch),
  note: data7(note),
  velocity: data7(velocity),
});
export const noteOff = (ch: number, note: number, velocity = 64): Message => ({
  kind: 'note-off',
  channel: channel(ch),
  note: data7(note),
  velocity: data7(velocity),
});
export const polyPressure = (ch: number, note: number, pressure: number): Message => ({
  kind: 'poly-pressure',
  channel: channel(ch),
  note: data7(note),
  pressure: data7(pressure),
});
export const controller = (ch: number, number: number, value: number): Message => ({
  kind: 'controller',
  channel: channel(ch),
  controller: data7(number),
  value: data7(value),
});
export const program = (ch: number, number: number): Message => ({
  kind: 'program',
  channel: channel(ch),
  program: data7(number),
});
export const channelPressure = (ch: number, pressure: number): Message => ({
  kind: 'channel-pressure',
  channel: channel(ch),
  pressure: data7(pressure),
});
/** `value` 0–16383, centre 8192. */
export const pitchBend = (ch: number, value: number): Message => ({
  kind: 'pitch-bend',
  channel: channel(ch),
  value: value14(value),
});
/** `data` without F0 and F7; every byte 0–127. */
export const sysex = (data: ArrayLike<number>): Message => {
  for (let i = 0; i < data.length; i++) data7(data[i]!);
  return { kind: 'sysex', data: Uint8Array.from(data) };
};
export const songPosition = (sixteenths: number): Message => ({
  kind: 'song-position',
  sixteenths: value14(sixteenths),
});
export const songSelect = (song: number): Message => ({ kind: 'song-select', song: data7(song) });
export const quarterFrame = (data: number): Message => ({ kind: 'quarter-frame', data: data7(data) });
export const tuneRequest: Message = { kind: 'tune-request' };
export const realTime = (kind: RealTimeMessage['kind']): Message => REAL_TIME[kind];

const REAL_TIME: Record<RealTimeMessage['kind'], RealTimeMessage> = {
  clock: { kind: 'clock' },
  start: { kind: 'start' },
  continue: { kind: 'continue' },
  stop: { kind: 'stop' },
  'active-sensing': { kind: 'active-sensing' },
  reset: { kind: 'reset' },
};

/** The channel of a channel message, 0–15, or `null` for system messages. */
export const channelOf = (message: Message): Channel | null =>
  'channel' in message ? message.channel : null;

/**
 * Whether a message ends a note: a note-off, or a note-on with velocity 0.
 * Source: MIDI 1.0 Detailed Specification, "Note Off".
 */
export const endsNote = (message: Message): boolean =>
  message.kind === 'note-off' || (message.kind === 'note-on' && message.velocity === 0);
