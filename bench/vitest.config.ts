import { defineConfig } from 'vitest/config';

/** The figures that need the page: kept apart from the tests, since a time limit is no test. */
export default defineConfig({
  test: {
    root: '.',
    globalSetup: ['tests/support/database.setup.ts'],
    include: ['bench/**/*.bench.ts'],
    testTimeout: 300_000,
    hookTimeout: 180_000,
    // What is measured side by side measures each other.
    fileParallelism: false,
  },
});
