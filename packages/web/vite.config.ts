import vue from '@vitejs/plugin-vue';
import { defineConfig } from 'vite';
import { VitePWA } from 'vite-plugin-pwa';

export default defineConfig({
  plugins: [
    // Blanks and line ends between inline elements are one blank, as in HTML: the formatter may break there.
    vue({ template: { compilerOptions: { whitespace: 'preserve' } } }),
    // Everything is kept by the browser, so that the page works without its server. A newer version waits
    // until no page of the older one is open: its parts that are loaded late stay there for as long.
    VitePWA({
      registerType: 'prompt',
      injectRegister: null,
      manifest: {
        name: 'Bright Ferry',
        short_name: 'Bright Ferry',
        description: 'Finds out why an outside client cannot reach a self-hosted server.',
        display: 'standalone',
        background_color: '#f7f3ea',
        theme_color: '#f7f3ea',
        icons: [{ src: '/ferry.svg', sizes: 'any', type: 'image/svg+xml', purpose: 'any' }],
      },
      workbox: {
        globPatterns: ['**/*.{js,css,html,svg,woff2}'],
        maximumFileSizeToCacheInBytes: 8 * 1024 * 1024,
        navigateFallback: '/index.html',
        cleanupOutdatedCaches: true,
        // The first page is served from the cache as well, not only the next one.
        clientsClaim: true,
      },
    }),
  ],
  worker: { format: 'es' },
  build: { target: 'es2022', outDir: 'dist', emptyOutDir: true, chunkSizeWarningLimit: 800 },
});
