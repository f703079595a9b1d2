import { chmodSync, mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import type { TestProject } from 'vitest/node';
import { startMariadb } from '../../scripts/lib/mariadb.mjs';

declare module 'vitest' {
  interface ProvidedContext {
    databaseUrl: string;
  }
}

/** A throwaway MariaDB on loopback for one run of tests. */
export default async function setup(project: TestProject): Promise<() => Promise<void>> {
  const folder = mkdtempSync(join(tmpdir(), 'idle-step-test-'));
  // The database's own user has to reach it when the tests run as root.
  chmodSync(folder, 0o755);
  const database = await startMariadb(join(folder, 'data'));
  project.provide('databaseUrl', database.url);
  return async () => {
    await database.stop();
    rmSync(folder, { recursive: true, force: true });
  };
}
