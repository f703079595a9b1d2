import { builtinModules } from 'node:module';
import swc from 'unplugin-swc';
import { defineConfig } from 'vite';

/** One file for the server with the project's own packages inside; what comes from the registry stays outside. */
export default defineConfig({
  plugins: [
    swc.vite({
      jsc: {
        target: 'es2022',
        parser: { syntax: 'typescript', decorators: true },
        transform: { legacyDecorator: true, decoratorMetadata: true },
      },
    }),
  ],
  oxc: false,
  build: {
    ssr: 'src/main.ts',
    outDir: 'dist',
    target: 'node20',
    minify: false,
    sourcemap: true,
    rollupOptions: { external: builtinModules.flatMap((m) => [m, `node:${m}`]) },
  },
  ssr: { noExternal: [/^@idle-step\//] },
});
