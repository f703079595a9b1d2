import { lastOf, nth, there } from '../sure';
/**
 * Names in one cell: `0=Dry; 1=Body`. In a name `;` and `\` stand behind a backslash, a line break is `\n`, and a space
 * at either end is `\s`.
 */
export const escapeName = (name: string): string =>
  name
    .replace(/[\\;]/g, '\\$&')
    .replaceAll('\r', '\\r')
    .replaceAll('\n', '\\n')
    .replace(/^\s|\s$/g, (space) =>
      space === ' ' ? '\\s' : `\\u${there(space.codePointAt(0)).toString(16)};`,
    );

/** The name that was written, spaces around it dropped. */
export const unescapeName = (text: string): string =>
  text.trim().replace(/\\(u([0-9a-f]+);|[^])/g, (_, escaped: string, code: string | undefined) => {
    if (code !== undefined) return String.fromCodePoint(parseInt(code, 16));
    return { n: '\n', r: '\r', s: ' ' }[escaped] ?? escaped;
  });

/** Pieces between semicolons that stand for themselves; none for an empty cell. */
export function splitNames(text: string): string[] {
  if (text.trim() === '') return [];
  const pieces = [''];
  for (let i = 0; i < text.length; i++) {
    const code = text[i] === '\\' ? /^\\u[0-9a-f]+;/.exec(text.slice(i))?.[0] : undefined;
    if (text[i] === '\\') {
      const escaped = code ?? text.slice(i, i + 2);
      pieces[pieces.length - 1] += escaped;
      i += escaped.length - 1;
    } else if (text[i] === ';') pieces.push('');
    else pieces[pieces.length - 1] += nth(text, i);
  }
  // A semicolon at the end adds nothing.
  if (lastOf(pieces).trim() === '') pieces.pop();
  return pieces;
}
