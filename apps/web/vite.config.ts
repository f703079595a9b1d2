import react from '@vitejs/plugin-react';
import { defineConfig, type Plugin } from 'vite';
import { VitePWA } from 'vite-plugin-pwa';

/** Has the browser fetch the letters with the page: those that come later are wider, and what is shown moves. */
const lettersWithPage: Plugin = {
  name: 'letters-with-page',
  apply: 'build',
  transformIndexHtml: {
    order: 'post',
    handler: (_html, { bundle }) =>
      Object.keys(bundle ?? {})
        .filter((file) => file.endsWith('.woff2'))
        .map((file) => ({
          tag: 'link',
          injectTo: 'head',
          attrs: { rel: 'preload', as: 'font', type: 'font/woff2', href: `/${file}`, crossorigin: '' },
        })),
  },
};

export default defineConfig({
  plugins: [
    react(),
    lettersWithPage,
    // The page opens without its server; a newer version waits until it is opened again.
    VitePWA({
      registerType: 'prompt',
      injectRegister: null,
      manifest: {
        name: 'Idle Step',
        short_name: 'Idle Step',
        description: 'Foot-controlled rigs, hands-free evenings',
        start_url: '/',
        display: 'standalone',
        background_color: '#14161a',
        theme_color: '#14161a',
        icons: [{ src: '/icon.svg', sizes: 'any', type: 'image/svg+xml', purpose: 'any' }],
      },
      workbox: {
        globPatterns: ['**/*.{js,css,html,svg,woff2}'],
        navigateFallback: '/index.html',
        navigateFallbackDenylist: [/^\/api(\/|$)/, /^\/problems(\/|$)/],
        cleanupOutdatedCaches: true,
      },
    }),
  ],
  css: {
    preprocessorOptions: {
      scss: {
        quietDeps: true,
        silenceDeprecations: ['import', 'global-builtin', 'color-functions', 'if-function'],
      },
    },
  },
  build: {
    outDir: 'dist',
    target: 'es2022',
    sourcemap: true,
    rolldownOptions: {
      checks: { pluginTimings: false },
      output: {
        // What several places use comes in one file: dozens of small ones come one after the other. What the page is
        // begun with is a file of its own, so that the first picture does not wait for what only some places show.
        codeSplitting: {
          groups: [
            { name: 'first', tags: ['$initial'], priority: 1 },
            { name: 'shared', minShareCount: 3 },
          ],
        },
      },
    },
    assetsInlineLimit: 0,
    chunkSizeWarningLimit: 1200,
  },
  server: {
    host: '127.0.0.1',
    proxy: { '/api': { target: process.env['API_URL'] ?? 'http://127.0.0.1:4310', changeOrigin: true } },
  },
});
