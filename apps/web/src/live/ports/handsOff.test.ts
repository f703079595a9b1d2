import {
  controller,
  noteOff,
  noteOn,
  pitchBend,
  program,
  realTime,
  sysex,
  type Message,
} from '@idle-step/core/midi';
import { expect, it } from 'vitest';
import { passesHandsOff } from './handsOff';

it.each<[string, Message, boolean]>([
  ['a note', noteOn(0, 60, 90), false],
  ['its end', noteOff(0, 60), true],
  ['its end as a note of velocity 0', noteOn(0, 60, 0), true],
  ['a damper that goes down', controller(0, 64, 64), false],
  ['a damper that goes up', controller(0, 64, 63), true],
  ['a bend', pitchBend(0, 8193), false],
  ['a bend that comes back', pitchBend(0, 8192), true],
  ['all notes off', controller(0, 123, 0), true],
  ['all sound off', controller(0, 120, 0), true],
  ['a volume of 0', controller(0, 7, 0), false],
  ['a program', program(0, 1), false],
  ['a clock', realTime('clock'), false],
  ['a start', realTime('start'), false],
  ['a stop', realTime('stop'), true],
  ['SysEx', sysex([1, 2]), false],
])('with hands off %s goes out: %s', (_name, message, passes) =>
  expect(passesHandsOff(message)).toBe(passes),
);
