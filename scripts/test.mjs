import { mkdirSync, readFileSync, rmSync } from 'node:fs';
import { join } from 'node:path';
import { prepare, ROOT } from './lib/prepare.mjs';
import { onStopSignal, run } from './lib/processes.mjs';
import { Refusal, runScript, say } from './lib/say.mjs';

/** Checks besides the tests, in order; each counts as one in the closing line. */
const CHECKS = [
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
  ['build', 'npm', ['run', '--silent', 'build']],
];

await runScript(async () => {
  onStopSignal(() => undefined);
  await prepare(['mariadbd', 'chromium']);
  let [passed, failed] = [0, 0];
  const env = { ...process.env, npm_config_loglevel: 'error' };
  for (const [name, command, args] of CHECKS) {
    const isGood =
      (await run(command, args, { cwd: ROOT, env, stdio: ['ignore', 'inherit', 'inherit'] })) === 0;
    say(`${isGood ? 'good' : 'FAILED'}  ${name}`);
    if (isGood) passed++;
    else failed++;
  }
  const tests = await runTests(env);
  passed += tests.passed;
  failed += tests.failed;
  say(`${passed} passed, ${failed} failed`);
  if (failed > 0) process.exitCode = 1;
});

async function runTests(env) {
  const folder = join(ROOT, '.data', 'test');
  const report = join(folder, 'report.json');
  mkdirSync(folder, { recursive: true });
  rmSync(report, { force: true });
  const args = [
    'vitest',
    'run',
    '--reporter=default',
    '--reporter=json',
    `--outputFile.json=${report}`,
    ...process.argv.slice(2),
  ];
  const code = await run('npx', args, { cwd: ROOT, env, stdio: ['ignore', 'inherit', 'inherit'] });
  let counts;
  try {
    counts = JSON.parse(readFileSync(report, 'utf8'));
  } catch {
    throw new Refusal('The tests ended without a report; see above.');
  }
  // A file that could not be loaded has no failed test of its own, yet it failed.
  const brokenFiles = counts.testResults.filter(
    (r) => r.status === 'failed' && r.assertionResults.length === 0,
  ).length;
  const failed = counts.numFailedTests + brokenFiles;
  return { passed: counts.numPassedTests, failed: failed === 0 && code !== 0 ? 1 : failed };
}
