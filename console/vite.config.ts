import react from '@vitejs/plugin-react';
import { readFileSync, writeFileSync } from 'node:fs';
import { brotliCompressSync, gzipSync } from 'node:zlib';
import { defineConfig } from 'vitest/config';

/**
 * Beside each text file the same compressed, once, as well as it goes: the service hands out what a browser takes.
 * It reads what was written: until then other plug-ins change it.
 */
const compressed = {
  name: 'compressed',
  apply: 'build' as const,
  writeBundle({ dir }: { dir?: string }, bundle: Record<string, unknown>) {
    for (const name of Object.keys(bundle).filter((file) => /\.(js|css|svg)$/.test(file))) {
      const file = `${dir}/${name}`;
      const bytes = readFileSync(file);
      writeFileSync(`${file}.br`, brotliCompressSync(bytes));
      writeFileSync(`${file}.gz`, gzipSync(bytes, { level: 9 }));
    }
  },
};

export default defineConfig({
  plugins: [react(), compressed],
  build: { outDir: 'dist', chunkSizeWarningLimit: 900 },
  test: {
    testTimeout: 60_000,
    hookTimeout: 60_000,
    // libraries and document are laid once for all files: nothing but `setupFiles` may act by being read
    isolate: false,
    setupFiles: ['src/shared/testing/style.ts', 'src/shared/testing/server.ts', 'src/shared/testing/after.ts'],
  },
  server: { proxy: { '/api': 'http://127.0.0.1:7878' } },
});
