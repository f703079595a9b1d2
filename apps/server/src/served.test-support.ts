import type { INestApplication } from '@nestjs/common';
import { afterAll, beforeAll, inject } from 'vitest';
import { emptyDatabase } from '../../../tests/support/database';
import { pageFolder } from '../../../tests/support/page';
import { startApp } from './app';

/** The server with the demo in a database of its own, for all tests of a file; `base` is there once they run. */
export function servedDemo(path: string): { base: string } {
  const served = { base: '' };
  let app: INestApplication;
  beforeAll(async () => {
    const databaseUrl = await emptyDatabase(inject('databaseUrl'));
    const started = await startApp({ databaseUrl, webRoot: pageFolder(), port: 0, withDemo: true });
    app = started.app;
    served.base = `http://127.0.0.1:${started.port}${path}`;
  });
  afterAll(() => app.close());
  return served;
}
