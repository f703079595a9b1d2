import { ROOT } from './prepare.mjs';
import { run } from './processes.mjs';
import { say } from './say.mjs';

/** The compiler that is native code; ESLint needs the one that is a library, which is an older one. */
const TYPES = ['node_modules/typescript-7/bin/tsc', '-p'];
/** What was looked at before and has not changed since is not looked at again. */
const cached = (name) => [
  '--cache',
  '--cache-strategy',
  'content',
  '--cache-location',
  `.data/check/${name}`,
];

/** Checks besides the tests; each counts as one in the closing line. The longest come first. */
export const CHECKS = [
  ['format', 'npx', ['prettier', '--check', '--log-level=warn', ...cached('prettier'), '.']],
  ['lint', 'npx', ['eslint', ...cached('eslint'), '.']],
  ['types', 'node', [...TYPES, 'packages/core']],
  ['types of the contract', 'node', [...TYPES, 'packages/contract']],
  ['types of the demo', 'node', [...TYPES, 'packages/demo']],
  ['types of the server', 'node', [...TYPES, 'apps/server']],
  ['types of the page', 'node', [...TYPES, 'apps/web']],
  ['types of the tests', 'node', [...TYPES, 'tsconfig.tests.json']],
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

/** The bench of the engine in a form so short that it only shows that it has not rotted; those of the page take minutes. */
export const BENCH = ['bench of the engine, short', 'node', ['scripts/bench.mjs', '--short', '--engine']];

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
