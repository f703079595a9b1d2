import * as tonal from '@tonaljs/midi';
import { describe, expect, it } from 'vitest';
import { Enumerations, Utilities } from 'webmidi';
import {
  controllerName,
  dinMessagesPerSecond,
  isReservedByStandard,
  noteFrequencyHz,
  noteLabel,
  noteName,
  parseNote,
  wireTimeMs,
} from './index';

const ascii = (name: string) => name.replace('♯', '#');
const NOTES = Array.from({ length: 128 }, (_, n) => n);

describe('note names', () => {
  it.each([
    [60, 3, 'C3'],
    [60, 4, 'C4'],
    [60, 5, 'C5'],
    [0, 3, 'C-2'],
    [127, 5, 'G10'],
    [61, 4, 'C♯4'],
  ] as const)('note %i with middle C %i is %s', (note, middleC, name) => {
    expect(noteName(note, middleC)).toBe(name);
  });

  it('agrees with two registry libraries on all notes (both name 60 C4)', () => {
    for (const n of NOTES) {
      expect(ascii(noteName(n, 4))).toBe(tonal.midiToNoteName(n, { sharps: true }));
      const id = Utilities.getNoteDetails(n);
      expect(ascii(noteName(n, 4))).toBe(`${id.name}${id.accidental ?? ''}${id.octave}`);
    }
  });

  it('reads back every name under every convention', () => {
    for (const middleC of [3, 4, 5] as const)
      for (const n of NOTES) expect(parseNote(noteName(n, middleC), middleC)).toEqual({ ok: true, value: n });
  });

  it.each([
    ['60', 60],
    ['eb2', 51],
    ['Cb3', 59],
    ['B#2', 60],
    [' G#3 ', 68],
  ] as const)('reads %s as %i with middle C 3', (text, note) => {
    expect(parseNote(text, 3)).toEqual({ ok: true, value: note });
  });

  it.each([
    ['128', 'out-of-range'],
    ['G#8', 'out-of-range'],
    ['B-3', 'out-of-range'],
    ['H2', 'not-a-note'],
    ['', 'not-a-note'],
    ['C', 'not-a-note'],
    ['6.5', 'not-a-note'],
  ] as const)('refuses "%s" as %s', (text, code) => {
    expect(parseNote(text, 3)).toMatchObject({ ok: false, error: { code, received: text } });
  });

  it('shows number and name together', () => expect(noteLabel(60, 3)).toBe('60 C3'));
});

describe('frequency', () => {
  it('is 440 Hz at note 69 and 261.6255653005986 Hz at 60', () => {
    expect(noteFrequencyHz(69)).toBe(440);
    expect(noteFrequencyHz(60)).toBeCloseTo(261.6255653005986, 10);
  });
  it('agrees with a registry library on all notes', () => {
    for (const n of NOTES) expect(noteFrequencyHz(n)).toBeCloseTo(tonal.midiToFreq(n), 8);
  });
});

describe('controller names', () => {
  it.each([
    [1, 'Modulation'],
    [7, 'Volume'],
    [10, 'Pan'],
    [11, 'Expression'],
    [39, 'Volume LSB'],
    [64, 'Damper'],
    [3, null],
    [127, 'Poly'],
  ] as const)('%i is %s', (n, name) => expect(controllerName(n)).toBe(name));

  it('names the same numbers as a registry library does', () => {
    // Witness: webmidi 3.3.1. It also names the coarse and fine halves; where it says "controller <n>" it has none.
    const theirs = (
      Enumerations as unknown as { CONTROL_CHANGE_MESSAGES: { number: number; name: string }[] }
    ).CONTROL_CHANGE_MESSAGES;
    const words: Record<number, string> = {
      0: 'bankselect',
      7: 'volume',
      64: 'damper',
      66: 'sostenuto',
      91: 'effect1',
    };
    for (const [n, word] of Object.entries(words))
      expect(theirs[Number(n)]!.name.toLowerCase()).toContain(word);
    const undefinedThere = theirs.filter((c) => /^controller/i.test(c.name)).map((c) => c.number);
    // 32–63 are left out: the standard makes n + 32 the fine half of n, and the library names only some of
    // them. 79 too: the standard has it as the last of ten sound controllers.
    for (const n of undefinedThere.filter((n) => n < 32 || (n > 63 && n < 120 && n !== 79)))
      expect([n, controllerName(n)]).toEqual([n, null]);
  });

  it('reserves data entry, bank, parameter and channel mode numbers', () => {
    const reserved = NOTES.filter(isReservedByStandard);
    expect(reserved).toEqual([
      0, 6, 32, 38, 96, 97, 98, 99, 100, 101, 120, 121, 122, 123, 124, 125, 126, 127,
    ]);
  });
});

describe('wire time on a DIN link', () => {
  // Source: 31,250 baud, ten bits a byte (MIDI 1.0 Detailed Specification, from memory).
  it.each([
    [0, 0],
    [1, 0.32],
    [2, 0.64],
    [3, 0.96],
    [9, 2.88],
  ])('%i bytes take %f ms', (bytes, ms) => expect(wireTimeMs(bytes)).toBe(ms));
  it('is nothing on the other links', () => expect(wireTimeMs(3, 'usb')).toBe(0));
  it('carries 1041.67 three-byte and 1562.5 two-byte messages a second', () => {
    expect(dinMessagesPerSecond(3)).toBeCloseTo(1041.67, 2);
    expect(dinMessagesPerSecond(2)).toBe(1562.5);
  });
});
