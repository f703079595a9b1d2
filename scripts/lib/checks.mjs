import { ROOT } from './prepare.mjs';
import { run } from './processes.mjs';
import { say } from './say.mjs';

/** Checks besides the tests, in order; each counts as one in the closing line. */
export const CHECKS = [
  ['types', 'npx', ['tsc', '-p', 'packages/core']],
  ['types of the contract', 'npx', ['tsc', '-p', 'packages/contract']],
  ['types of the demo', 'npx', ['tsc', '-p', 'packages/demo']],
  ['types of the server', 'npx', ['tsc', '-p', 'apps/server']],
  ['types of the page', 'npx', ['tsc', '-p', 'apps/web']],
  ['types of the tests', 'npx', ['tsc', '-p', 'tsconfig.tests.json']],
  ['lint', 'npx', ['eslint', '.']],
  ['format', 'npx', ['prettier', '--check', '--log-level=warn', '.']],
  [
    'layers',
    'npx',
    [
      'depcruise',
      '--config',
      '.dependency-cruiser.cjs',
      'packages',
      'apps',
      'tests',
      'bench',
      '--output-type',
      'err',
    ],
  ],
  ['unused files, exports and dependencies', 'npx', ['knip', '--no-progress']],
];

/** What the browser tests drive. */
export const BUILD = ['build', 'npm', ['run', '--silent', 'build']];

/** Every bench in a form so short that it only shows that none has rotted. */
export const BENCHES = ['benches, short', 'node', ['scripts/bench.mjs', '--short', '--json']];

/** The soak in a form so short that it only shows that its laws are still those of the engine. */
export const SOAK = ['soak, short', 'node', ['scripts/soak.mjs', '1000']];

/** Runs checks one after the other, all of them whatever the outcome. @returns how many were good and how many not. */
export async function runChecks(checks, env) {
  let [passed, failed] = [0, 0];
  for (const [name, command, args] of checks) {
    const isGood =
      (await run(command, args, { cwd: ROOT, env, stdio: ['ignore', 'inherit', 'inherit'] })) === 0;
    say(`${isGood ? 'good' : 'FAILED'}  ${name}`);
    if (isGood) passed++;
    else failed++;
  }
  return { passed, failed };
}
