import { z } from 'zod';
import { Name, whole } from './numbers';

/** Saves of one document, counted from 1. */
const VersionNumber = whole('Version', 1, 2 ** 31 - 1);

/** A document as the server keeps it: `version` counts its saves from 1, `savedAt` is ISO 8601 in UTC. */
export type Kept<Doc> = { readonly doc: Doc; readonly version: number; readonly savedAt: string };

export const keptSchema = <S extends z.ZodType>(doc: S) =>
  z.object({ doc, version: VersionNumber, savedAt: z.iso.datetime() });

/** One earlier save of a document. */
export const RevisionSchema = z.object({
  version: VersionNumber,
  savedAt: z.iso.datetime(),
  /** A named save stays, however old it gets. */
  name: z.string().max(80).nullable(),
});
export type Revision = z.infer<typeof RevisionSchema>;

/** What a save is called, or that it has no name any more. */
export const RevisionNameSchema = z.object({ name: Name.nullable() });

/** What is kept: one word a resource, the same in the API path and the table. */
export const RESOURCES = ['rigs', 'presets', 'songs', 'sets'] as const;
export type Resource = (typeof RESOURCES)[number];
