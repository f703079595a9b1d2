import { demoSets, demoSongs } from '@idle-step/demo';
import { describe, expect, it } from 'vitest';
import { songLines } from './songList';

const short = demoSets[1]!;
const lines = (wanted = '', order: Parameters<typeof songLines>[3] = 'set', set = short) =>
  songLines(demoSongs, set, wanted, order).map((l) =>
    l.kind === 'head' ? `(${l.text})` : `${l.number ?? ''} ${l.song.name}`.trim(),
  );

describe('the list of songs', () => {
  it('is the set in play in its order, then the rest by title', () => {
    expect(lines().slice(0, 7)).toEqual([
      '1 Heron',
      '2 Low Water',
      '3 Slow Ferry',
      '4 Salt Stairs',
      '5 Lantern Home',
      '(not in this set)',
      'Gull Clock',
    ]);
    expect(lines()).toHaveLength(12);
  });
  it.each([
    ['HERON', ['Heron']],
    ['d minor', ['Heron']],
    ['quiet', ['Heron']],
    ['low wa', ['Low Water']],
    ['sing weir', ['Paper Weir']],
    ['nothing like it', []],
  ])('finds “%s” in title, key and tags, all words of it', (wanted, names) =>
    expect(lines(wanted)).toEqual(names),
  );
  it('is put in order by tempo, length, key and title', () => {
    expect(lines('', 'tempo')[0]).toBe('Long Mooring');
    expect(lines('', 'length')[0]).toBe('Gull Clock');
    expect(lines('', 'key').slice(0, 3)).toEqual(['Heron', 'Paper Weir', 'Gull Clock']);
    expect(lines('', 'title')[0]).toBe('Gull Clock');
  });
});
