/** A recording of some hours, in bytes. */
export const RECORDING_LIMIT = 200 * 1024 * 1024;

/** Largest file of text that is read, in bytes. A chart of 2000 rows with remarks is below half of it. */
export const TEXT_FILE_LIMIT = 2 * 1024 * 1024;

export type ReadText = { readonly text: string; readonly error?: undefined } | { readonly error: string };

/** The part of a `File` that is needed: so that tests can read bytes of their own. */
type FileLike = Pick<File, 'name' | 'size' | 'arrayBuffer'>;

/**
 * The text of a file in UTF-8, or in UTF-16 where its mark says so, as spreadsheets save it; or why it is none. A file
 * over the limit is refused before it is read.
 */
export async function readTextFile(
  file: FileLike,
  limit = TEXT_FILE_LIMIT,
  what = 'charts',
): Promise<ReadText> {
  if (file.size > limit)
    return {
      error: `${file.name} has ${megabytes(file.size)}; ${what} are read up to ${megabytes(limit)}. This may be another kind of file.`,
    };
  const bytes = new Uint8Array(await file.arrayBuffer());
  const mark = [bytes[0], bytes[1]].join(' ');
  if (mark === '255 254' || mark === '254 255')
    try {
      const wide = new TextDecoder(mark === '255 254' ? 'utf-16le' : 'utf-16be', { fatal: true });
      return { text: wide.decode(bytes) };
    } catch {
      return { error: `${file.name} is written in UTF-16 and damaged or cut off; save it as UTF-8.` };
    }
  try {
    return { text: new TextDecoder('utf-8', { fatal: true }).decode(bytes) };
  } catch {
    const at = firstBadByte(bytes);
    const line = bytes.subarray(0, at).reduce((n, b) => n + (b === 0x0a ? 1 : 0), 1);
    return {
      error: `${file.name} is not written in UTF-8: byte ${at + 1}, in line ${line}. Save it as UTF-8.`,
    };
  }
}

const megabytes = (bytes: number): string =>
  `${(bytes / (1024 * 1024)).toFixed(bytes < 1024 * 1024 ? 2 : 0)} MB`;

/** Where decoding fails first, from 0; found by halves. */
function firstBadByte(bytes: Uint8Array): number {
  const isGood = (end: number) => {
    try {
      new TextDecoder('utf-8', { fatal: true }).decode(bytes.subarray(0, end), { stream: true });
      return true;
    } catch {
      return false;
    }
  };
  let [good, bad] = [0, bytes.length];
  while (bad - good > 1) {
    const middle = (good + bad) >> 1;
    if (isGood(middle)) good = middle;
    else bad = middle;
  }
  return good;
}
