import { describe, expect, it } from 'vitest';
import { fifthsBetween, sharpsOf } from './keys';

describe('the signature of a key', () => {
  // Standard MIDI Files 1.0, key signature: sf −7 (seven flats) to 7 (seven sharps), for major and minor keys.
  const MAJOR = ['Cb', 'Gb', 'Db', 'Ab', 'Eb', 'Bb', 'F', 'C', 'G', 'D', 'A', 'E', 'B', 'F#', 'C#'];
  const MINOR = ['Ab', 'Eb', 'Bb', 'F', 'C', 'G', 'D', 'A', 'E', 'B', 'F#', 'C#', 'G#', 'D#', 'A#'];
  it.each(MAJOR.map((key, i) => [key, i - 7]))('%s major: %i', (key, sharps) => {
    expect(sharpsOf(key)).toBe(sharps);
    expect(sharpsOf(`${key} major`)).toBe(sharps);
  });
  it.each(MINOR.map((key, i) => [key, i - 7]))('%s minor: %i', (key, sharps) => {
    for (const text of [
      `${key}m`,
      `${key} minor`,
      key.toLowerCase(),
      `${key.replace('b', '♭').replace('#', '♯')}min`,
    ])
      expect(sharpsOf(text)).toBe(sharps);
  });
  it.each(['', 'low', 'I', 'C7', 'Em/G', 'capo 2'])('“%s” is none', (text) =>
    expect(sharpsOf(text)).toBeNull(),
  );
});

it('keys are as far apart as on the circle of fifths, either way round', () => {
  for (const [a, b, fifths] of [
    ['C', 'C', 0],
    ['C', 'Am', 0],
    ['C', 'G', 1],
    ['C', 'F#', 6],
    ['F#', 'Gb', 0],
    ['Db', 'B', 2],
    ['Em', 'C#m', 3],
    ['Eb', 'E', 5],
  ] as const) {
    expect(fifthsBetween(a, b)).toBe(fifths);
    expect(fifthsBetween(b, a)).toBe(fifths);
  }
  expect(fifthsBetween('C', 'low')).toBeNull();
});
