import { defineConfig } from 'vitest/config';

/** The in-page runtime: one file that needs nothing, for the browsers that visitors have. */
export default defineConfig({
    publicDir: false,
    build: {
        target: 'es2019',
        outDir: 'runtime/dist',
        lib: { entry: 'runtime/src/main.ts', formats: ['iife'], name: 'pellixRuntime', fileName: () => 'pellix.js' },
    },
    test: {
        include: ['runtime/test/**/*.test.ts', 'resources/js/test/**/*.test.{ts,tsx}'],
        environment: 'jsdom',
        setupFiles: ['resources/js/test/server.ts'],
    },
});
