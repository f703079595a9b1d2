import { idFrom, pressesWords, type PressPlan } from '@idle-step/core/proof';
import { placeOf, type LiveState, type World } from '@idle-step/core/engine';
import { useMemo, useSyncExternalStore } from 'react';
import { z } from 'zod';
import { lasting } from '../storage/keptTexts';

const KEY = 'idle-step.plan-on-stage';
const KeptSchema = z.object({
  /** The evening that it was made for. */
  ground: z.string(),
  parts: z
    .array(z.object({ songIndex: z.number(), partIndex: z.number(), text: z.string().max(400) }))
    .max(5000),
});
type Kept = z.infer<typeof KeptSchema>;

function read(): Kept | null {
  try {
    return KeptSchema.safeParse(JSON.parse(lasting.store.getItem(KEY) ?? 'null')).data ?? null;
  } catch {
    return null;
  }
}

let kept: Kept | null | undefined;
const listeners = new Set<() => void>();
const now = (): Kept | null => (kept === undefined ? (kept = read()) : kept);
const subscribe = (listener: () => void): (() => void) => {
  listeners.add(listener);
  return () => listeners.delete(listener);
};

function become(next: Kept | null): void {
  kept = next;
  try {
    if (next) lasting.store.setItem(KEY, JSON.stringify(next));
    else lasting.store.removeItem(KEY);
  } catch {
    // A browser that is full keeps it as long as the page is open.
  }
  for (const listener of listeners) listener();
}

/** What a plan is made for: another text as soon as anything of the evening is edited. */
const groundOf = ({ show: { rig, presets, songs, entryIds, leftOut } }: World): string =>
  idFrom(JSON.stringify([rig, presets, songs, entryIds, leftOut]));

/** The plan is shown on stage, press by press, until the evening is edited or it is taken off. */
export function showOnStage(world: World, plan: PressPlan): void {
  become({
    ground: groundOf(world),
    parts: plan.parts.map((part) => ({
      songIndex: part.songIndex,
      partIndex: part.partIndex,
      text: part.presses
        .map((press) => `${press.foot} foot, ${pressesWords(world, [press])}`)
        .join('; then '),
    })),
  });
}

export const takeOffStage = (): void => become(null);

type Steps = Kept['parts'];
const NONE: Steps = [];

/** The steps of the plan that is shown, while it is one of the evening as it is now; else none. */
export function usePlanSteps(world: World): Steps {
  const plan = useSyncExternalStore(subscribe, now);
  const ground = useMemo(() => (plan ? groundOf(world) : null), [plan, world]);
  return plan && plan.ground === ground ? plan.parts : NONE;
}

/** What the plan says leads to a part, or empty. */
export const stepTo = (
  steps: Steps,
  at: { readonly songIndex: number; readonly partIndex: number },
): string => steps.find((p) => p.songIndex === at.songIndex && p.partIndex === at.partIndex)?.text ?? '';

/** What the plan says comes next, or empty. */
export function nextStep(steps: Steps, world: World, state: Pick<LiveState, 'position'>): string {
  const { songIndex, partIndex } = placeOf(world, state);
  const at = steps.findIndex((p) => p.songIndex === songIndex && p.partIndex === partIndex);
  return at < 0 ? '' : (steps[at + 1]?.text ?? '');
}
