import { defineConfig } from 'vitest/config';
import swc from 'unplugin-swc';

const serverTransform = () =>
  swc.vite({
    jsc: {
      parser: { syntax: 'typescript', decorators: true },
      transform: { legacyDecorator: true, decoratorMetadata: true },
    },
  });

export default defineConfig({
  test: {
    projects: [
      // Random runs take long on a machine that is busy with other things.
      { test: { name: 'core', include: ['packages/*/src/**/*.test.ts'], testTimeout: 60_000 } },
      { test: { name: 'web', include: ['apps/web/src/**/*.test.ts'], testTimeout: 60_000 } },
      {
        plugins: [serverTransform()],
        oxc: false,
        test: {
          name: 'server',
          globalSetup: ['tests/support/database.setup.ts'],
          include: ['apps/server/src/**/*.test.ts'],
          testTimeout: 60_000,
          hookTimeout: 120_000,
          fileParallelism: false,
        },
      },
      {
        test: {
          name: 'browser',
          globalSetup: ['tests/support/database.setup.ts'],
          include: ['tests/**/*.test.ts'],
          testTimeout: 120_000,
          hookTimeout: 180_000,
          fileParallelism: false,
        },
      },
    ],
  },
});
