import type { FileFault } from '@idle-step/core/formats';

/** Why a file was refused, in one text. Example: `songs.csv: line 3: The title is missing.` */
export const faultsText = (fileName: string, faults: readonly FileFault[]): string =>
  `${fileName} was not taken. ${faults
    .map(({ line, sentence }) => (line === null ? sentence : `Line ${line}: ${sentence}`))
    .join(' ')}`;
