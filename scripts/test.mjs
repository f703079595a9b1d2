import { mkdirSync, readFileSync, rmSync } from 'node:fs';
import { join } from 'node:path';
import { BENCH, BUILD, CHECKS, runChecks, SOAK } from './lib/checks.mjs';
import { prepare, ROOT } from './lib/prepare.mjs';
import { onStopSignal, run } from './lib/processes.mjs';
import { Refusal, runScript, say } from './lib/say.mjs';

await runScript(async () => {
  onStopSignal(() => undefined);
  await prepare(['mariadbd', 'chromium']);
  const env = { ...process.env, npm_config_loglevel: 'error' };
  const built = await runChecks([BUILD], env);
  const checked = await runChecks([...CHECKS, BENCH, SOAK], env, 2);
  let passed = built.passed + checked.passed;
  let failed = built.failed + checked.failed;
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
