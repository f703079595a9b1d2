import { CHECKS, runChecks } from './lib/checks.mjs';
import { prepare } from './lib/prepare.mjs';
import { runScript, say } from './lib/say.mjs';

/** Types, lint, format, layers, and what nothing uses: everything that needs no test to run. */
await runScript(async () => {
  await prepare([]);
  const { passed, failed } = await runChecks(CHECKS, { ...process.env, npm_config_loglevel: 'error' }, 2);
  say(`${passed} passed, ${failed} failed`);
  if (failed > 0) process.exitCode = 1;
});
