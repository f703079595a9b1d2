import type { Evening } from '@idle-step/contract';
import type { EveningEntry } from '@idle-step/core/show';
import { z } from 'zod';
import { lasting } from '../storage/keptTexts';
import type { KeptPlace } from './keptPlace';

const KEY = 'idle-step.left-behind';

/** What was on its way to the disk when a page went away. */
export type LeftBehind = {
  readonly place: KeptPlace;
  readonly reports: readonly { readonly evening: Evening; readonly entries: readonly EveningEntry[] }[];
};

/**
 * Keeps it where it is written at once: a page that goes away is not waited for until its database has it.
 * Source: Indexed Database API, W3C: a transaction is aborted where the page that began it goes away (from memory).
 */
export function leaveBehind(left: LeftBehind): void {
  try {
    lasting.store.setItem(KEY, JSON.stringify(left));
  } catch {
    // Then what reaches the disk counts.
  }
}

/** What the last page left behind, `null` where it left nothing that can be read. */
export async function readLeftBehind(): Promise<LeftBehind | null> {
  try {
    const text = lasting.store.getItem(KEY);
    if (text === null) return null;
    const { BookmarkSchema, EveningReportSchema, EveningSchema } = await import('@idle-step/contract');
    const head = z.object({ head: EveningSchema, next: z.number() });
    const place = z.object({
      bookmark: BookmarkSchema,
      wallMs: z.number(),
      standIns: z.record(z.string(), z.custom<StandIn>()).optional(),
      evening: head.nullable(),
    });
    const left = z.object({ place, reports: z.array(EveningReportSchema) });
    return left.safeParse(JSON.parse(text)).data ?? null;
  } catch {
    return null;
  }
}

/** Each is looked at where it is brought back. */
type StandIn = NonNullable<KeptPlace['standIns']>[string];

export function forgetLeftBehind(): void {
  try {
    lasting.store.removeItem(KEY);
  } catch {
    // It is older than what is on the disk from the next write on.
  }
}
