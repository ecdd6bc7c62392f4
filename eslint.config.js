import js from '@eslint/js';
import hooks from 'eslint-plugin-react-hooks';
import ts from 'typescript-eslint';

export default ts.config(
    { ignores: ['resources/js/api/schema.d.ts', 'runtime/dist', 'loupe/dist'] },
    js.configs.recommended,
    ...ts.configs.recommended,
    { files: ['resources/js/**/*.{ts,tsx}', 'loupe/**/*.{ts,tsx}'], plugins: { 'react-hooks': hooks }, rules: hooks.configs['recommended-latest']?.rules ?? hooks.configs.recommended.rules },
);
