import {
  In,
  type EntityManager,
  type EntityTarget,
  type FindOptionsWhere,
  type ObjectLiteral,
} from 'typeorm';
import type { QueryDeepPartialEntity } from 'typeorm/query-builder/QueryPartialEntity.js';
import { invalid } from '../http/problem.exception';

const CHUNK = 500;

/**
 * Makes the child rows of some parents be exactly `rows`: what is missing is deleted, what differs is written, what
 * is the same is left alone. A row that belongs to another parent's document is refused, never taken over.
 * @param keys the columns of the primary key.
 */
export async function syncRows<Row extends ObjectLiteral>(
  manager: EntityManager,
  entity: EntityTarget<Row>,
  parent: { readonly column: keyof Row & string; readonly ids: readonly string[] },
  keys: readonly (keyof Row & string)[],
  rows: readonly Row[],
): Promise<void> {
  const keyOf = (row: Row) => keys.map((k) => String(row[k])).join('/');
  const existing =
    parent.ids.length === 0
      ? []
      : await manager.find(entity, {
          where: { [parent.column]: In([...parent.ids]) } as FindOptionsWhere<Row>,
        });
  const before = new Map(existing.map((row) => [keyOf(row), row]));
  const wanted = new Set(rows.map(keyOf));
  const removed = existing.filter((row) => !wanted.has(keyOf(row)));
  if (removed.length > 0) await manager.remove(removed);
  const added = rows.filter((row) => !before.has(keyOf(row)));
  if (keys.length === 1) await refuseForeign(manager, entity, keys[0]!, added);
  const written = rows.filter((row) => {
    const old = before.get(keyOf(row));
    return !old || Object.keys(row).some((k) => JSON.stringify(old[k]) !== JSON.stringify(row[k]));
  });
  for (let i = 0; i < written.length; i += CHUNK)
    await manager.upsert(entity, written.slice(i, i + CHUNK) as QueryDeepPartialEntity<Row>[], [...keys]);
}

async function refuseForeign<Row extends ObjectLiteral>(
  manager: EntityManager,
  entity: EntityTarget<Row>,
  key: keyof Row & string,
  added: readonly Row[],
): Promise<void> {
  if (added.length === 0) return;
  const where = { [key]: In(added.map((row) => row[key] as string)) } as FindOptionsWhere<Row>;
  const taken = await manager.findOne(entity, { where });
  if (!taken) return;
  const message = `The identifier ${String(taken[key])} belongs to something else already.`;
  throw invalid(`Nothing was stored: ${message}`, [{ path: '', message }]);
}

/** Rows grouped by a column, each group in order of `position`. */
export function groupRows<Row extends { position: number }>(
  rows: readonly Row[],
  column: keyof Row,
): Map<unknown, Row[]> {
  const groups = new Map<unknown, Row[]>();
  for (const row of [...rows].sort((a, b) => a.position - b.position)) {
    const group = groups.get(row[column]);
    if (group) group.push(row);
    else groups.set(row[column], [row]);
  }
  return groups;
}
