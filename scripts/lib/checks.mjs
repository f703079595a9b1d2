import { ROOT } from './prepare.mjs';
import { run } from './processes.mjs';
import { say } from './say.mjs';

/** Checks besides the tests; each counts as one in the closing line. */
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

/**
 * Runs checks, all of them whatever the outcome.
 * @param atOnce how many run side by side. Most of them keep one processor busy.
 * @returns how many were good and how many not.
 */
export async function runChecks(checks, env, atOnce = 1) {
  let [passed, failed] = [0, 0];
  const waiting = [...checks];
  const work = async () => {
    for (let check = waiting.shift(); check; check = waiting.shift()) {
      const [name, command, args] = check;
      const isGood =
        (await run(command, args, { cwd: ROOT, env, stdio: ['ignore', 'inherit', 'inherit'] })) === 0;
      say(`${isGood ? 'good' : 'FAILED'}  ${name}`);
      if (isGood) passed++;
      else failed++;
    }
  };
  await Promise.all(Array.from({ length: atOnce }, work));
  return { passed, failed };
}
