import { PROBLEM } from '@idle-step/contract';

/** Whether an answer says that what is asked for is not there any more, and not merely that nothing answers there. */
export async function isGone(answer: Response): Promise<boolean> {
  if (answer.status !== 404) return false;
  const problem = await answer.json().catch(() => null);
  return problem?.type === PROBLEM.gone;
}
