import { useState } from 'react';

/**
 * A state that belongs to one thing: for another one it begins anew, as if the component were another. What is said
 * late about the thing before is not taken for this one.
 * @param thing what it belongs to, by its identifier.
 * @param first no function: what is given as one tells what the state becomes.
 */
export function useStateOf<T>(thing: string, first: T): [T, (next: T | ((now: T) => T)) => void] {
  const [kept, setKept] = useState({ thing, value: first });
  if (kept.thing !== thing) setKept({ thing, value: first });
  const set = (next: T | ((now: T) => T)): void =>
    setKept((before) => ({
      thing,
      value:
        typeof next === 'function'
          ? // A value that is a function itself cannot be told from one that makes it; nobody keeps functions here.
            (next as (now: T) => T)(before.thing === thing ? before.value : first)
          : next,
    }));
  return [kept.thing === thing ? kept.value : first, set];
}
