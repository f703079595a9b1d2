import { useState } from 'react';

/** One of a list: the one that was picked as long as it is there, else the first; empty when there is none. */
export function useChosen(
  options: readonly { readonly value: string }[],
): [chosen: string, choose: (value: string) => void] {
  const [picked, setPicked] = useState<string | null>(null);
  const isThere = options.some((o) => o.value === picked);
  return [isThere && picked !== null ? picked : (options[0]?.value ?? ''), setPicked];
}
