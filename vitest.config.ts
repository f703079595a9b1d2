import { defineConfig } from 'vitest/config';
import swc from 'unplugin-swc';

// Where clocks change twice a year, as on most stages: what is wrong with times of day shows there.
process.env['TZ'] = 'Europe/Berlin';

const serverTransform = () =>
  swc.vite({
    jsc: {
      parser: { syntax: 'typescript', decorators: true },
      transform: { legacyDecorator: true, decoratorMetadata: true },
    },
  });

/** Files that touch nothing outside themselves: read once, on every processor, before those that need the machine. */
const byItself = {
  isolate: false,
  pool: 'threads',
  maxWorkers: '100%',
  sequence: { groupOrder: 0 },
  // Random runs take long on a machine that is busy with other things; nothing is said by how long.
  testTimeout: 300_000,
} as const;

/**
 * Each of these files has a database, a server and a browser of its own. Three at once keep two processors busy: much of
 * what they do is waiting for a beat, a glide or a timer.
 */
const threeAtOnce = { maxWorkers: 3, sequence: { groupOrder: 1 } } as const;

export default defineConfig({
  test: {
    projects: [
      { test: { name: 'core', include: ['packages/*/src/**/*.test.ts'], ...byItself } },
      { test: { name: 'web', include: ['apps/web/src/**/*.test.ts'], ...byItself } },
      {
        plugins: [serverTransform()],
        oxc: false,
        test: {
          name: 'server',
          globalSetup: ['tests/support/database.setup.ts'],
          include: ['apps/server/src/**/*.test.ts'],
          testTimeout: 300_000,
          hookTimeout: 300_000,
          ...threeAtOnce,
        },
      },
      {
        test: {
          name: 'browser',
          globalSetup: ['tests/support/database.setup.ts'],
          include: ['tests/**/*.test.ts'],
          // Nothing is said by how long a test takes: one that hangs ends at last, on a busy computer too.
          testTimeout: 600_000,
          hookTimeout: 300_000,
          ...threeAtOnce,
        },
      },
    ],
  },
});
