import type { Resource } from '@idle-step/contract';
import { partsOfKey } from './draftKey';

/** Where documents of a kind are edited. */
const PLACES: Readonly<Record<Resource, readonly string[]>> = {
  rigs: ['rig', 'routes', 'rigs', 'floor'],
  presets: ['floor'],
  songs: ['songs'],
  sets: ['sets'],
};

/** Names of documents told at the most. */
const NAMES_TOLD = 3;

/**
 * Whose a step is, and whether that is what one looks at.
 * @param nameOf what a document is called, where it is there.
 * @param path of the page, like `/songs/0000…`.
 */
export function placeOfStep(
  nameOf: (resource: Resource, id: string) => string | undefined,
  keys: readonly string[],
  path: string,
): { readonly names: readonly string[]; readonly isInView: boolean } {
  const [, place, id] = path.split('/');
  const docs = keys.map(partsOfKey);
  const names = docs.flatMap(([resource, docId]) => nameOf(resource, docId) ?? []);
  const isHere = ([resource, docId]: readonly [Resource, string]): boolean =>
    PLACES[resource].includes(place ?? '') &&
    (!id || resource === 'rigs' || resource === 'presets' || id === docId || docs.length > 1);
  return {
    names: names.length > NAMES_TOLD ? [...names.slice(0, NAMES_TOLD), 'others'] : names,
    isInView: docs.some(isHere),
  };
}
