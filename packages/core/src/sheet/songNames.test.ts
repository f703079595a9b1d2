import { describe, expect, it } from 'vitest';
import { readSongNames } from './songNames';

const read = (text: string, taken: readonly string[] = []) =>
  readSongNames(text, taken).map((s) => [s.name, s.tempoBpm, s.key, s.refused]);

describe('songs by a list of names', () => {
  it.each([
    ['Paper Boat', ['Paper Boat', null, '', null]],
    ['1. Paper Boat', ['Paper Boat', null, '', null]],
    ['12) Paper Boat;96;A minor', ['Paper Boat', 96, 'A minor', null]],
    ['Paper Boat\tA minor\t92,5 bpm', ['Paper Boat', 92.5, 'A minor', null]],
    ['3 Steps', ['3 Steps', null, '', null]],
    ['7', ['7', null, '', null]],
    ['Paper Boat;401', ['Paper Boat', 401, '', '401 is no tempo; 20 to 400 bpm would be right.']],
    ['x'.repeat(81), ['x'.repeat(81), null, '', 'The name is longer than 80 characters; shorten it.']],
  ])('reads %j', (text, song) => expect(read(text)).toEqual([song]));

  it('leaves out empty lines, whatever ends them, and tells those that are there', () => {
    expect(read('Boat\r\n\r\nTin\rBoat\nOld', ['old']).map(([name, , , refused]) => [name, refused])).toEqual(
      [
        ['Boat', null],
        ['Tin', null],
        ['Boat', 'The name stands in line 1 already.'],
        ['Old', 'A song is called so already.'],
      ],
    );
  });
});
