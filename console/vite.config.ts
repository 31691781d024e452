import react from '@vitejs/plugin-react';
import { defineConfig } from 'vitest/config';

export default defineConfig({
  plugins: [react()],
  build: { outDir: 'dist', chunkSizeWarningLimit: 900 },
  test: { testTimeout: 20_000, setupFiles: ['src/shared/testing/server.ts'] },
  server: { proxy: { '/api': 'http://127.0.0.1:7878' } },
});
