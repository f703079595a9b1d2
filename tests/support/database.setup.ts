import { mkdtempSync, rmSync } from 'node:fs';
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
  const database = await startMariadb(join(folder, 'data'));
  project.provide('databaseUrl', database.url);
  return async () => {
    await database.stop();
    rmSync(folder, { recursive: true, force: true });
    rmSync(database.data, { recursive: true, force: true });
  };
}
