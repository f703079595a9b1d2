import { NAME_LIMIT, readRigFile } from '@idle-step/contract';
import { cutText } from '@idle-step/core/typed';
import { rigBodies, type RigBodies } from '../../edits/rigParts';
import { rigCopy } from '../../edits/newRig';
import { RECORDING_LIMIT, readTextFile } from '../../files/readTextFile';
import { freeName } from '../../words/names';

/**
 * A rig file to be read as a new rig. @param suffix put behind its name. @param taken names of other rigs.
 */
export type RigFileWish = {
  readonly file: Blob;
  readonly name: string;
  readonly suffix: string;
  readonly taken: readonly string[];
};
export type RigFileRead =
  | { readonly error: string }
  | { readonly error?: undefined; readonly id: string; readonly name: string; readonly bodies: RigBodies };

/** A large rig file takes long to read, to check and to copy: done beside the page, which plays meanwhile. */
self.onmessage = async ({ data }: MessageEvent<RigFileWish>) => self.postMessage(await read(data));

async function read({ file, name, suffix, taken }: RigFileWish): Promise<RigFileRead> {
  const text = await readTextFile(
    { name, size: file.size, arrayBuffer: () => file.arrayBuffer() },
    RECORDING_LIMIT,
    'rigs',
  );
  if (text.error !== undefined) return { error: text.error };
  const found = readRigFile(text.text);
  if (found.error !== undefined) return { error: `${name} was not read: ${found.error}` };
  const copy = rigCopy(
    found.file,
    freeName(taken, `${cutText(found.file.rig.name, NAME_LIMIT - 10)}${suffix}`),
  );
  return { id: copy.rig.id, name: copy.rig.name, bodies: rigBodies(copy) };
}
