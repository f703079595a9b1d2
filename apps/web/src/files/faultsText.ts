import type { FileFault } from '@idle-step/core/formats';
import { cutText } from '@idle-step/core/typed';

/** Of what a file says so many characters are quoted; a damaged one may have a cell as long as itself. */
const QUOTED_AT_MOST = 60;

/** And a sentence has at most so many. */
const SENTENCE_AT_MOST = 500;

/** The same fault with what it quotes cut short. */
export function withShortQuotes(fault: FileFault): FileFault {
  const sentence = fault.sentence.replace(/“([^”]*)”/g, (whole, quoted: string) =>
    quoted.length <= QUOTED_AT_MOST ? whole : `“${cutText(quoted, QUOTED_AT_MOST)} …”`,
  );
  return {
    ...fault,
    sentence: sentence.length <= SENTENCE_AT_MOST ? sentence : `${cutText(sentence, SENTENCE_AT_MOST)} …`,
  };
}

/** Why a file was refused, in one text. Example: `songs.csv: line 3: The title is missing.` */
export const faultsText = (fileName: string, faults: readonly FileFault[]): string =>
  `${fileName} was not taken. ${faults
    .map(withShortQuotes)
    .map(({ line, sentence }) => (line === null ? sentence : `Line ${line}: ${sentence}`))
    .join(' ')}`;
