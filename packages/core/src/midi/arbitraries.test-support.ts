import fc from 'fast-check';
import {
  channelPressure,
  controller,
  noteOff,
  noteOn,
  pitchBend,
  polyPressure,
  program,
  quarterFrame,
  realTime,
  songPosition,
  songSelect,
  sysex,
  tuneRequest,
  type Message,
} from './index';

const ch = fc.integer({ min: 0, max: 15 });
const d7 = fc.integer({ min: 0, max: 127 });
const v14 = fc.integer({ min: 0, max: 16383 });

export const anyChannelMessage: fc.Arbitrary<Message> = fc.oneof(
  fc.tuple(ch, d7, d7).map(([c, n, v]) => noteOn(c, n, v)),
  fc.tuple(ch, d7, d7).map(([c, n, v]) => noteOff(c, n, v)),
  fc.tuple(ch, d7, d7).map(([c, n, v]) => polyPressure(c, n, v)),
  fc.tuple(ch, d7, d7).map(([c, n, v]) => controller(c, n, v)),
  fc.tuple(ch, d7).map(([c, n]) => program(c, n)),
  fc.tuple(ch, d7).map(([c, n]) => channelPressure(c, n)),
  fc.tuple(ch, v14).map(([c, v]) => pitchBend(c, v)),
);

export const anyMessage: fc.Arbitrary<Message> = fc.oneof(
  anyChannelMessage,
  v14.map(songPosition),
  d7.map(songSelect),
  d7.map(quarterFrame),
  fc.constant(tuneRequest),
  fc.constantFrom(
    ...(['clock', 'start', 'continue', 'stop', 'active-sensing', 'reset'] as const).map((k) => realTime(k)),
  ),
  fc.array(d7, { maxLength: 40 }).map(sysex),
);
