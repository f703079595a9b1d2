import { RigProgressSchema, type RigProgress } from '@idle-step/contract';

const NOTHING: RigProgress = { done: 0, of: 0 };

/** How far the server is with something long; 0 of 0 where nothing goes on, or it does not say. */
export async function progressAt(path: string): Promise<RigProgress> {
  try {
    const answer = await fetch(path);
    return answer.ok ? (RigProgressSchema.safeParse(await answer.json()).data ?? NOTHING) : NOTHING;
  } catch {
    return NOTHING;
  }
}
