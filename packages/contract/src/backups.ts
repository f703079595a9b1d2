import { z } from 'zod';
import { Id, whole } from './numbers';

/** A rig in a backup, with what it has. */
const BackedUpSchema = z.object({
  id: Id,
  name: z.string().max(80),
  songs: whole('Songs', 0, 10_000_000),
  sets: whole('Sets', 0, 10_000_000),
  presets: whole('Presets', 0, 10_000_000),
  bytes: whole('Bytes', 0, 1_000_000_000_000),
});
export type BackedUp = z.infer<typeof BackedUpSchema>;

/** One backup of all rigs. */
export const BackupSchema = z.object({
  /** Its folder. */
  name: z.string().regex(/^[0-9]{8}T[0-9]{9}Z(-by-hand)?$/, { error: 'There is no backup of that name.' }),
  at: z.iso.datetime(),
  isByHand: z.boolean(),
  rigs: z.array(BackedUpSchema),
});
export type Backup = z.infer<typeof BackupSchema>;

/** All backups, the newest first, and where they lie; no folder where this server makes none. */
export const BackupsSchema = z.object({
  folder: z.string().nullable(),
  /** How many made by itself are kept. */
  kept: whole('Backups', 0, 1000),
  backups: z.array(BackupSchema),
});
export type Backups = z.infer<typeof BackupsSchema>;
