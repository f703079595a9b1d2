import { createRequire } from 'node:module';

// Read by its path: its name leads here.
const all = createRequire(import.meta.url)('fast-check');

/** Random runs of a law at the most while small changes are tried: what is wrong shows in the first ones. */
const RUNS_AT_MOST = 15;

const assert = (property, options = {}) =>
  all.assert(property, { ...options, numRuns: Math.min(options.numRuns ?? 100, RUNS_AT_MOST) });

export default { ...all, assert };
