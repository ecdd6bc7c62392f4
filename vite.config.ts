import tailwindcss from '@tailwindcss/vite';
import react from '@vitejs/plugin-react';
import { defineConfig } from 'vite';

/** The interface. Laravel reads the manifest to find the built files (resources/views/interface.blade.php). */
export default defineConfig({
    base: '/build/',
    plugins: [react(), tailwindcss()],
    publicDir: false,
    build: {
        outDir: 'public/build',
        manifest: 'manifest.json',
        rollupOptions: { input: 'resources/js/main.tsx' },
    },
});
