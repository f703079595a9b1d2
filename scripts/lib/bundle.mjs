import { join } from 'node:path';
import { pathToFileURL } from 'node:url';
import { ROOT } from './prepare.mjs';

/** Bundles a TypeScript script of the project and runs it in this process: optimised code, no transform beside it. */
export async function runBundled(entry) {
  const { build } = await import('vite');
  const outDir = join(ROOT, '.data', 'bundles', entry.replaceAll('/', '-'));
  await build({
    root: ROOT,
    configFile: false,
    logLevel: 'error',
    build: {
      ssr: join(ROOT, entry),
      outDir,
      emptyOutDir: true,
      target: 'node20',
      rollupOptions: { output: { entryFileNames: 'main.mjs' } },
    },
    ssr: { noExternal: [/^@idle-step\//] },
  });
  await import(pathToFileURL(join(outDir, 'main.mjs')).href);
}
