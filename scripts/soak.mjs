import { prepare } from './lib/prepare.mjs';
import { runScript } from './lib/say.mjs';

await runScript(async () => {
  await prepare([]);
  const { runBundled } = await import('./lib/bundle.mjs');
  await runBundled('bench/soak.ts');
});
