import { FEET_MODEL, type FeetModel } from '@idle-step/core/proof';
import { useState } from 'react';
import { z } from 'zod';
import { lasting } from '../storage/keptTexts';

const KEY = 'idle-step.feet';
const seconds = z.number().min(0).max(5);
const ModelSchema = z.object({ aS: seconds, bS: seconds, tapS: seconds, crossedS: seconds });

function read(): FeetModel {
  try {
    return ModelSchema.safeParse(JSON.parse(lasting.store.getItem(KEY) ?? '')).data ?? FEET_MODEL;
  } catch {
    return FEET_MODEL;
  }
}

export type FeetChoice = { readonly model: FeetModel; change(part: Partial<FeetModel>): void; reset(): void };

/** What the feet of whoever plays need, kept in this browser. */
export function useFeetModel(): FeetChoice {
  const [model, setModel] = useState(read);
  const take = (next: FeetModel): void => {
    setModel(next);
    try {
      lasting.store.setItem(KEY, JSON.stringify(next));
    } catch {
      // A browser that is full keeps it as long as the page is open.
    }
  };
  return { model, change: (part) => take({ ...model, ...part }), reset: () => take(FEET_MODEL) };
}
