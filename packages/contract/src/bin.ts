import { z } from 'zod';
import { RESOURCES } from './kept';
import { Id, Name, whole } from './numbers';

/** How long what was deleted stays, in days. */
export const BIN_DAYS = 30;

/** Something that was deleted. What went together with its rig is not listed: it comes back with the rig. */
export const BinLineSchema = z.object({
  resource: z.enum(RESOURCES),
  id: Id,
  name: Name,
  /** The rig that it belongs to; of a rig its own. */
  rigId: Id,
  /** `null` where that rig is gone for good. */
  rigName: z.string().nullable(),
  /** That rig is in the bin itself: it has to come back first. */
  isRigBinned: z.boolean(),
  /** Songs that went with it, of a rig; 0 of anything else. */
  songCount: whole('Songs', 0, 10_000_000),
  deletedAt: z.iso.datetime(),
  /** When it is deleted for good. */
  goesAt: z.iso.datetime(),
});
export type BinLine = z.infer<typeof BinLineSchema>;

/** What came back, and in sentences what of it could not, since it points at what is gone. */
export const BroughtBackSchema = z.object({
  resource: z.enum(RESOURCES),
  id: Id,
  rigId: Id,
  leftOut: z.array(z.string()),
});
export type BroughtBack = z.infer<typeof BroughtBackSchema>;
