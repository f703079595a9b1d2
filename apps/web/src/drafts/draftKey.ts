import type { Resource } from '@idle-step/contract';

/** Under what the draft of a document stands. */
export const draftKey = (resource: Resource, id: string): string => `${resource}/${id}`;

/** Kind and identifier of the document under a key. */
export const partsOfKey = (key: string): readonly [Resource, string] =>
  // Keys are made by `draftKey` alone.
  key.split('/') as [Resource, string];
