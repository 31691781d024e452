import react from '@vitejs/plugin-react';
import { brotliCompressSync, gzipSync } from 'node:zlib';
import { defineConfig } from 'vitest/config';

/** Beside each text file the same compressed, once, as well as it goes: the service hands out what a browser takes. */
const compressed = {
  name: 'compressed',
  apply: 'build' as const,
  generateBundle(
    this: { emitFile: (file: { type: 'asset'; fileName: string; source: Uint8Array }) => string },
    _: unknown,
    bundle: Record<string, { fileName: string; code?: string; source?: string | Uint8Array }>,
  ) {
    for (const { fileName, code, source } of Object.values(bundle)) {
      const text = code ?? source;
      if (!text || !/\.(js|css|svg)$/.test(fileName)) continue;
      const bytes = Buffer.from(text);
      this.emitFile({ type: 'asset', fileName: `${fileName}.br`, source: brotliCompressSync(bytes) });
      this.emitFile({ type: 'asset', fileName: `${fileName}.gz`, source: gzipSync(bytes, { level: 9 }) });
    }
  },
};

export default defineConfig({
  plugins: [react(), compressed],
  build: { outDir: 'dist', chunkSizeWarningLimit: 900 },
  test: { testTimeout: 20_000, setupFiles: ['src/shared/testing/server.ts'] },
  server: { proxy: { '/api': 'http://127.0.0.1:7878' } },
});
