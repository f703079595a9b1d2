import { noteName, type MiddleC } from './noteNames';

const SHORT_STATUS: Readonly<Record<number, string>> = {
  0x80: 'note off',
  0x90: 'note on',
  0xa0: 'key press.',
  0xb0: 'CC',
  0xc0: 'prog',
  0xd0: 'pressure',
  0xe0: 'bend',
};

/** What each byte of some messages says in a word or two, as the table of channel messages of MIDI 1.0 has them. */
export function byteWords(bytes: readonly number[], middleC: MiddleC): string[] {
  const words: string[] = [];
  let status = 0;
  let place = 0;
  for (const byte of bytes) {
    if (byte >= 0x80) {
      status = byte;
      place = 0;
      words.push(byte >= 0xf0 ? systemWord(byte) : `${SHORT_STATUS[byte & 0xf0]!}, ch ${(byte & 15) + 1}`);
      continue;
    }
    place++;
    const kind = status & 0xf0;
    words.push(
      status >= 0xf0
        ? 'data'
        : place === 1 && kind === 0xb0
          ? `CC ${byte}`
          : place === 1 && kind <= 0xa0
            ? noteName(byte, middleC)
            : place === 1 && kind === 0xe0
              ? 'fine'
              : place === 2 && kind === 0xe0
                ? 'coarse'
                : place === 1 && kind === 0xc0
                  ? `program ${byte}`
                  : kind === 0x90 || kind === 0x80
                    ? `velocity ${byte}`
                    : `value ${byte}`,
    );
  }
  return words;
}

const systemWord = (byte: number): string =>
  byte === 0xf0 ? 'SysEx' : byte === 0xf7 ? 'end' : byte >= 0xf8 ? 'timing' : 'system';
