import react from '@vitejs/plugin-react';
import { defineConfig } from 'vite';

/** The companion in the site's own page: one file, which only those load who hold a link to it. */
export default defineConfig({
    publicDir: false,
    plugins: [react()],
    define: { 'process.env.NODE_ENV': '"production"' },
    build: {
        target: 'es2020',
        outDir: 'loupe/dist',
        emptyOutDir: true,
        lib: { entry: 'loupe/src/main.tsx', formats: ['iife'], name: 'pellixLoupe', fileName: () => 'loupe.js' },
    },
});
