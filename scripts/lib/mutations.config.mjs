import { relative } from 'node:path';
import { defineConfig } from 'vitest/config';
import { BaseSequencer } from 'vitest/node';

/** Quick files first: most small changes are noticed there, and the run ends with the first failure. */
class QuickFirst extends BaseSequencer {
  async sort(files) {
    const { cache, config } = this.ctx;
    // As Vitest names a file in what it keeps of earlier runs.
    const keyOf = ({ project, moduleId }) => `${project.name}:${relative(config.root, moduleId)}`;
    const took = (file) => cache.getFileTestResults(keyOf(file))?.duration ?? 0;
    return [...files].sort((a, b) => took(a) - took(b));
  }
}

/** Of the copy in which small changes are tried: the tests of the core as they are run otherwise. */
export default defineConfig({
  test: {
    include: ['packages/*/src/**/*.test.ts'],
    isolate: false,
    pool: 'threads',
    maxWorkers: '100%',
    testTimeout: 60_000,
    sequence: { sequencer: QuickFirst },
  },
});
