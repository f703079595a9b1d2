import { fileURLToPath } from 'node:url';
import { defineConfig } from 'vitest/config';

// As in the tests themselves: where clocks change twice a year.
process.env['TZ'] = 'Europe/Berlin';

const here = (path) => fileURLToPath(new URL(`../../${path}`, import.meta.url));

/** Of the copy in which small changes are tried: the pure tests, with fewer random runs each. */
export default defineConfig({
  resolve: {
    alias: [
      // The installed packages are links to the project itself; the copy has to test its own.
      { find: /^@idle-step\/core\/(.+)$/, replacement: `${here('packages/core/src')}/$1/index.ts` },
      { find: /^@idle-step\/(core|contract|demo)$/, replacement: `${here('packages')}/$1/src/index.ts` },
      { find: /^fast-check$/, replacement: here('scripts/lib/fewRuns.mjs') },
    ],
  },
  test: {
    include: process.env['MUTATION_TESTS'].split(','),
    testTimeout: 60_000,
  },
});
