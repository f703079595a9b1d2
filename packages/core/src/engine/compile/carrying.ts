import { registersOf } from '../../gear';
import type { ArmingFunction, Carrying, Reached } from '../../show';

/** What carrying values has to know of the functions of a rig. */
export function carryingOf(
  functions: ReadonlyMap<string, Reached>,
  arming: readonly ArmingFunction[],
): Carrying {
  let readers: Map<string, string[]> | null = null;
  const found = new Map<string, readonly string[]>();
  const find = (functionId: string): readonly string[] => {
    const reached = functions.get(functionId);
    if (!reached) return NONE;
    readers ??= readersOf(functions);
    const ids = new Set<string>();
    for (const key of registersOf(reached.device, reached.fn).touches)
      for (const id of readers.get(key) ?? NONE) if (id !== functionId) ids.add(id);
    return ids.size === 0 ? NONE : [...ids];
  };
  return {
    arming,
    replacedBy: (functionId) => {
      let ids = found.get(functionId);
      if (!ids) found.set(functionId, (ids = find(functionId)));
      return ids;
    },
  };
}

const NONE: readonly string[] = [];

/** Functions by the registers that tell where they stand. */
function readersOf(functions: ReadonlyMap<string, Reached>): Map<string, string[]> {
  const readers = new Map<string, string[]>();
  for (const { device, fn } of functions.values())
    for (const key of registersOf(device, fn).reads) {
      const ids = readers.get(key);
      if (ids) ids.push(fn.id);
      else readers.set(key, [fn.id]);
    }
  return readers;
}
