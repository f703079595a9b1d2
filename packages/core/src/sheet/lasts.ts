import type { Length, Part, Song } from '../show';
import { readNumber } from '../typed';
import { nth } from '../sure';

/** `8`, `8 bars`, `6 beats`, `90 s` or `1:30`; `null` for nothing, `undefined` for what is no length. */
export function readLength(text: string): Length | null | undefined {
  if (text === '') return null;
  const clock = /^(\d{1,3}):(\d{2})$/.exec(text);
  if (clock) return { amount: Number(clock[1]) * 60 + Number(clock[2]), unit: 's' };
  const [, amount, unit = 'bars'] = /^([\d.,]+)\s*(bars?|beats?|s|sec|seconds?)?$/i.exec(text) ?? [];
  const number = readNumber(amount ?? '');
  if (number === null || number > 36_000) return undefined;
  const first = unit.toLowerCase();
  return { amount: number, unit: first.startsWith('s') ? 's' : first.startsWith('beat') ? 'beats' : 'bars' };
}

const lengthText = ({ amount, unit }: Length): string =>
  `${amount} ${amount === 1 && unit !== 's' ? unit.slice(0, -1) : unit}`;

/** How long a scene lasts each time it comes, with a stroke between; empty where nothing is known of it. */
export function lastsText(song: Song, sceneId: string): string {
  const lengths = song.parts.filter((p) => p.sceneId === sceneId).map((p) => p.length);
  return lengths.some((l) => l !== null) ? lengths.map((l) => (l ? lengthText(l) : '')).join(' | ') : '';
}

/**
 * The song with how long a scene lasts: one length for each time it comes, or one for all of them. The order of the parts
 * is written down where it was not. Refused: a sentence that says what would be right.
 */
export function withLasts(
  song: Song,
  sceneId: string,
  text: string,
  newPart: (sceneId: string) => Part,
): Song | string {
  if (text.trim() === '' && song.parts.length === 0) return song;
  const texts = text.split('|').map((t) => t.trim());
  const lengths = texts.map(readLength);
  const wrong = texts[lengths.indexOf(undefined)];
  if (wrong !== undefined) return `“${wrong}” is no length; 8 bars, 6 beats, 90 s or 1:30 would be right.`;
  const ordered = song.parts.length > 0 ? song.parts : song.scenes.map((s) => newPart(s.id));
  const parts = ordered.some((p) => p.sceneId === sceneId) ? ordered : [...ordered, newPart(sceneId)];
  const said = lengths.map((l) => l ?? null);
  let k = 0;
  return {
    ...song,
    parts: parts.map((part) => {
      if (part.sceneId !== sceneId) return part;
      const length = said.length === 1 ? nth(said, 0) : (said[k] ?? null);
      k++;
      return { ...part, length };
    }),
  };
}
