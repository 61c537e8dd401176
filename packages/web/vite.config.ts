import vue from '@vitejs/plugin-vue';
import { defineConfig } from 'vite';

export default defineConfig({
  // Blanks and line ends between inline elements are one blank, as in HTML: the formatter may break there.
  plugins: [vue({ template: { compilerOptions: { whitespace: 'preserve' } } })],
  worker: { format: 'es' },
  build: { target: 'es2022', outDir: 'dist', emptyOutDir: true, chunkSizeWarningLimit: 800 },
});
