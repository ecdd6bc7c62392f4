import { readFile, writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import { minify } from 'terser';
import { defineConfig } from 'vitest/config';

/** A part that only some experiments need, by its name; without one, the runtime that every visitor loads. */
const part = process.env.PELLIX_PART;

/** Every visitor loads it: what two minifiers in turn make smaller is worth the second that it takes. */
const smaller = {
    name: 'smaller',
    async writeBundle({ dir }: { dir?: string }, bundle: Record<string, unknown>): Promise<void> {
        for (const name of Object.keys(bundle)) {
            const path = join(dir ?? '.', name);
            const { code } = await minify(await readFile(path, 'utf8'), {
                compress: { passes: 3, unsafe_arrows: true, pure_getters: true },
            });
            await writeFile(path, code ?? '');
        }
    },
};

/** The in-page runtime: files that need nothing, for the browsers that visitors have. */
export default defineConfig({
    publicDir: false,
    plugins: [smaller],
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
        include: ['runtime/test/**/*.test.ts', 'loupe/test/**/*.test.ts', 'resources/js/test/**/*.test.{ts,tsx}'],
        environment: 'jsdom',
        setupFiles: ['resources/js/test/server.ts'],
        // A busy machine is slow; that is no fault of what is tested.
        testTimeout: 120_000,
        hookTimeout: 120_000,
    },
});
