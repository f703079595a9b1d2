import react from '@vitejs/plugin-react';
import { defineConfig } from 'vite';
import { VitePWA } from 'vite-plugin-pwa';

export default defineConfig({
  plugins: [
    react(),
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
        // What several places use comes in one file: dozens of small ones come one after the other.
        codeSplitting: { groups: [{ name: 'shared', minShareCount: 3 }] },
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
