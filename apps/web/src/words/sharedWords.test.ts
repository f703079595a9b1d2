import { expect, it } from 'vitest';
import { sharedWords } from './sharedWords';

it.each([
  [
    ['Record 1', 'Record 2', 'Stop'],
    [1, 1, 0],
  ],
  [
    ['Arm Bow', 'Drive', 'Arm Voice'],
    [1, 0, 1],
  ],
  [
    ['Chorus on', 'Drive on'],
    [0, 0],
  ],
  [
    ['Tape echo long', 'Tape echo short', 'Tape stop'],
    [2, 2, 1],
  ],
  // The same twice: what is left is the last word.
  [
    ['Record 1', 'Record 1'],
    [1, 1],
  ],
  // A whole text is no head of another.
  [
    ['Record', 'Record 1'],
    [0, 0],
  ],
  [
    ['', ' ', 'Intro'],
    [0, 0, 0],
  ],
  [[], []],
])('%j', (texts, shared) => expect(sharedWords(texts)).toEqual(shared));
