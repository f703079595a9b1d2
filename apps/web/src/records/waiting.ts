import type { GearRecord } from '@idle-step/contract';

/** Of the same thing the later word. */
const later = (a: GearRecord | undefined, b: GearRecord): GearRecord =>
  a && Date.parse(a.at) > Date.parse(b.at) ? a : b;

/**
 * What waits for the server in this browser, after one of its windows has changed its part.
 * @param stored what all windows had waiting.
 * @param own what this window has waiting.
 * @param settled when the words were said that this window got rid of, by the record's identifier, in ms.
 */
export function waitingOfAll(
  stored: readonly GearRecord[],
  own: Iterable<GearRecord>,
  settled: ReadonlyMap<string, number>,
): readonly GearRecord[] {
  const all = new Map<string, GearRecord>();
  for (const record of stored)
    if (Date.parse(record.at) > (settled.get(record.id) ?? -Infinity)) all.set(record.id, record);
  for (const record of own) all.set(record.id, later(all.get(record.id), record));
  return [...all.values()];
}
