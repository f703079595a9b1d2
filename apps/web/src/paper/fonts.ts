import type { Font, Measure } from '@idle-step/core/paper';
import { MM_PER_PT } from '@idle-step/core/paper';
import fontkit from '@pdf-lib/fontkit';
import body from '@fontsource/barlow/files/barlow-latin-400-normal.woff?url';
import bodyExt from '@fontsource/barlow/files/barlow-latin-ext-400-normal.woff?url';
import bold from '@fontsource/barlow/files/barlow-latin-600-normal.woff?url';
import boldExt from '@fontsource/barlow/files/barlow-latin-ext-600-normal.woff?url';
import cond from '@fontsource/barlow-condensed/files/barlow-condensed-latin-600-normal.woff?url';
import condExt from '@fontsource/barlow-condensed/files/barlow-condensed-latin-ext-600-normal.woff?url';
import mono from '@fontsource/ibm-plex-mono/files/ibm-plex-mono-latin-400-normal.woff?url';
import monoExt from '@fontsource/ibm-plex-mono/files/ibm-plex-mono-latin-ext-400-normal.woff?url';

/** Each font in two files: letters of western Europe, and more of Europe. */
const FILES: Record<Font, readonly [string, string]> = {
  body: [body, bodyExt],
  bold: [bold, boldExt],
  cond: [cond, condExt],
  mono: [mono, monoExt],
};

/** A font file: its bytes, which letters it has, and how wide they are. */
export type FontFile = {
  readonly bytes: Uint8Array;
  has(codePoint: number): boolean;
  /** In mm. */
  widthMm(text: string, sizePt: number): number;
};
export type PaperFonts = Readonly<Record<Font, readonly [FontFile, FontFile]>>;

/** A piece of a text that one file of a font has all letters of. */
export type Run = { readonly text: string; readonly file: 0 | 1 };

/** What is written where a font has no letter. */
const NO_LETTER = '?';

/** A text in pieces by the file of its letters. A letter that neither has is written as a question mark. */
export function runsOf(text: string, [latin, more]: readonly [FontFile, FontFile]): Run[] {
  const runs: { text: string; file: 0 | 1 }[] = [];
  for (const letter of text.normalize('NFC')) {
    const code = letter.codePointAt(0) ?? 0;
    const isLatin = latin.has(code);
    const file = isLatin || !more.has(code) ? 0 : 1;
    const written = isLatin || file === 1 ? letter : NO_LETTER;
    const last = runs.at(-1);
    if (last?.file === file) last.text += written;
    else runs.push({ text: written, file });
  }
  return runs;
}

export const measureWith =
  (fonts: PaperFonts): Measure =>
  (text, font, sizePt) =>
    runsOf(text, fonts[font]).reduce((sum, run) => sum + fonts[font][run.file].widthMm(run.text, sizePt), 0);

/** A font file that was read. @throws Error where it is none. */
export function readFont(bytes: Uint8Array): FontFile {
  const font = fontkit.create(bytes);
  const letters = new Set(font.characterSet);
  const widths = new Map<number, number>();
  /** In units of the font; pairs of letters are not moved together. */
  const widthOf = (code: number): number => {
    const known = widths.get(code);
    if (known !== undefined) return known;
    const width = font.glyphForCodePoint(code).advanceWidth;
    widths.set(code, width);
    return width;
  };
  return {
    bytes,
    has: (code) => letters.has(code),
    widthMm(text, sizePt) {
      let units = 0;
      for (const letter of text) units += widthOf(letter.codePointAt(0) ?? 0);
      return (units / font.unitsPerEm) * sizePt * MM_PER_PT;
    },
  };
}

let fetched: Promise<PaperFonts> | null = null;

/** The fonts of the page as files, fetched once. */
export function paperFonts(): Promise<PaperFonts> {
  fetched ??= fetchFonts().catch((error: unknown) => {
    fetched = null;
    throw error;
  });
  return fetched;
}

async function fetchFonts(): Promise<PaperFonts> {
  const file = async (url: string): Promise<FontFile> => {
    const answer = await fetch(url);
    if (!answer.ok) throw new Error(`The letters for paper did not come (${answer.status}).`);
    return readFont(new Uint8Array(await answer.arrayBuffer()));
  };
  const pair = async (font: Font): Promise<readonly [FontFile, FontFile]> => {
    const [latin, more] = await Promise.all(FILES[font].map(file));
    if (!latin || !more) throw new Error('The letters for paper did not come.');
    return [latin, more];
  };
  const [b, s, c, m] = await Promise.all((['body', 'bold', 'cond', 'mono'] as const).map(pair));
  if (!b || !s || !c || !m) throw new Error('The letters for paper did not come.');
  return { body: b, bold: s, cond: c, mono: m };
}
