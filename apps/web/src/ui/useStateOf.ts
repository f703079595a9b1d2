import { useState } from 'react';

/**
 * A state that belongs to one thing: for another one it begins anew, as if the component were another. What is said
 * late about the thing before is not taken for this one.
 * @param thing what it belongs to, by its identifier.
 */
export function useStateOf<T>(thing: string, first: T): [T, (next: T) => void] {
  const [kept, setKept] = useState({ thing, value: first });
  if (kept.thing !== thing) setKept({ thing, value: first });
  return [kept.thing === thing ? kept.value : first, (value) => setKept({ thing, value })];
}
