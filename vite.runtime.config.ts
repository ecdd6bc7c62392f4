import { defineConfig } from 'vitest/config';

/** A part that only some experiments need, by its name; without one, the runtime that every visitor loads. */
const part = process.env.PELLIX_PART;

/** The in-page runtime: files that need nothing, for the browsers that visitors have. */
export default defineConfig({
    publicDir: false,
    build: {
        target: 'es2019',
        outDir: 'runtime/dist',
        emptyOutDir: !part,
        lib: {
            entry: part ? `runtime/src/optional/${part}.ts` : 'runtime/src/main.ts',
            formats: ['iife'],
            name: 'pellixRuntime',
            fileName: () => (part ? `${part}.js` : 'pellix.js'),
        },
    },
    test: {
        include: ['runtime/test/**/*.test.ts', 'resources/js/test/**/*.test.{ts,tsx}'],
        environment: 'jsdom',
        setupFiles: ['resources/js/test/server.ts'],
        // A busy machine is slow; that is no fault of what is tested.
        testTimeout: 120_000,
        hookTimeout: 120_000,
    },
});
