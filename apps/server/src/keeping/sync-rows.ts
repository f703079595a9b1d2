import {
  In,
  type EntityManager,
  type EntityTarget,
  type FindOptionsWhere,
  type ObjectLiteral,
} from 'typeorm';

const CHUNK = 500;

/**
 * Makes the child rows of some parents be exactly `rows`: what is missing is deleted, what differs is written, what
 * is the same is left alone. A row that belongs to another parent's document is never taken over: the database refuses it.
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
          // TypeORM's type asks for a kind of row that is known; `parent.column` is one of its columns.
          where: { [parent.column]: In([...parent.ids]) } as FindOptionsWhere<Row>,
        });
  const before = new Map(existing.map((row) => [keyOf(row), row]));
  const wanted = new Set(rows.map(keyOf));
  const removed = existing.filter((row) => !wanted.has(keyOf(row)));
  if (removed.length > 0) await manager.remove(removed);
  const added = rows.filter((row) => !before.has(keyOf(row)));
  const changed = rows.filter((row) => {
    const old = before.get(keyOf(row));
    return old && Object.keys(row).some((k) => JSON.stringify(old[k]) !== JSON.stringify(row[k]));
  });
  // Added and not written over: a row of another document that has the same identifier stays with that document.
  await insertRows(manager, entity, added);
  for (let i = 0; i < changed.length; i += CHUNK)
    await manager.upsert(entity, changed.slice(i, i + CHUNK), [...keys]);
}

/**
 * Adds rows; one that is there already is refused by the database. Many at once in one statement, which is several times
 * as quick as to have each value named.
 */
export async function insertRows<Row extends ObjectLiteral>(
  manager: EntityManager,
  entity: EntityTarget<Row>,
  rows: readonly Row[],
): Promise<void> {
  const { driver } = manager.connection;
  const { columns, tableName } = manager.connection.getMetadata(entity);
  const names = columns.map((c) => driver.escape(c.databaseName)).join(', ');
  for (let i = 0; i < rows.length; i += CHUNK) {
    const values = rows
      .slice(i, i + CHUNK)
      .map((row) => columns.map((c) => driver.preparePersistentValue(row[c.propertyName], c) ?? null));
    await manager.query(`INSERT INTO ${driver.escape(tableName)} (${names}) VALUES ?`, [values]);
  }
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
