import { startBuild } from './lib/build.mjs';
import { onStopSignal } from './lib/processes.mjs';
import { runScript } from './lib/say.mjs';

/** Builds the page and the server. */
await runScript(async () => {
  const build = startBuild(['ignore', 'inherit', 'inherit']);
  onStopSignal(() => build.stop());
  await build.done;
});
