import type { DataSource, EntityManager } from 'typeorm';
import { taken, type ProblemException } from '../http/problem.exception';

/** Errors of the database by their number. Source: MariaDB error codes. */
const DUPLICATE = 1062;
const LOCK_WAIT = 1205;
const DEADLOCK = 1213;
const NO_SUCH_ROW = 1452;

/** How often a write is begun again that met another one. */
const TRIES = 4;

const numberOf = (error: unknown): number | undefined =>
  // Any error may come here; fields that it does not have are undefined.
  (error as { driverError?: { errno?: number } } | null)?.driverError?.errno;

/**
 * One write, whole or not at all. One that met another at the same moment is begun again and then sees what the other
 * left; what still cannot be is refused with the reason, never a fault of the server.
 */
export async function inTransaction<T>(
  db: DataSource,
  work: (manager: EntityManager) => Promise<T>,
): Promise<T> {
  for (let left = TRIES - 1; ; left--) {
    try {
      return await db.transaction(work);
    } catch (error) {
      const number = numberOf(error);
      const mayPass = number === DEADLOCK || number === LOCK_WAIT || number === DUPLICATE;
      if (mayPass && left > 0) continue;
      throw problemOf(number) ?? error;
    }
  }
}

/**
 * Reads piece by piece what is all of one moment, however long it takes. Source: MariaDB, REPEATABLE READ.
 */
export async function* readingAtOnce<T>(
  db: DataSource,
  read: (manager: EntityManager) => AsyncGenerator<T>,
): AsyncGenerator<T> {
  const runner = db.createQueryRunner();
  await runner.startTransaction('REPEATABLE READ');
  try {
    yield* read(runner.manager);
  } finally {
    // Nothing was written: it only ends.
    await runner.rollbackTransaction().catch(() => undefined);
    await runner.release();
  }
}

function problemOf(number: number | undefined): ProblemException | null {
  switch (number) {
    case DUPLICATE:
      return taken(
        'An identifier in it belongs to something else already; give the new thing one of its own.',
      );
    case NO_SUCH_ROW:
      return taken('What it points at was deleted at the same moment.');
    case DEADLOCK:
    case LOCK_WAIT:
      return taken('Something else was being stored at the same moment; store it again.');
    default:
      return null;
  }
}
