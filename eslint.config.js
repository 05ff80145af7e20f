import js from '@eslint/js';
import hooks from 'eslint-plugin-react-hooks';
import tseslint from 'typescript-eslint';

export default tseslint.config(
  {
    ignores: [
      '**/tmp',
      '**/node_modules/**',
      '**/build/**',
      '**/dist/**',
      'core/kernels/wasm/**',
      'app/public/**',
      'tmp/**',
      'proofs/**',
      'data*/**',
      '**/*.cjs',
      'app/babel.config.js',
    ],
  },
  js.configs.recommended,
  ...tseslint.configs.recommended,
  {
    files: ['**/*.ts', '**/*.tsx'],
    rules: {
      '@typescript-eslint/no-explicit-any': 'error',
      '@typescript-eslint/no-non-null-assertion': 'error',
      '@typescript-eslint/no-unused-vars': ['error', { argsIgnorePattern: '^_', varsIgnorePattern: '^_' }],
      '@typescript-eslint/no-unused-expressions': ['error', { allowShortCircuit: true, allowTernary: true }],
      'max-lines': ['error', { max: 320, skipBlankLines: true, skipComments: true }],
      eqeqeq: 'error',
      'no-undef': 'off',
    },
  },
  {
    // A catalogue is one list, however long.
    files: ['**/src/words/*.ts'],
    rules: { 'max-lines': 'off' },
  },
  {
    // The core knows no interface, no files and no network.
    files: ['core/src/**/*.ts', 'core/kernels/reference/**/*.ts'],
    ignores: ['**/tmp', '**/*.test.ts'],
    rules: {
      'no-restricted-imports': [
        'error',
        {
          patterns: [
            {
              group: [
                'node:*',
                'react*',
                'expo',
                'expo-*',
                'expo/**',
                '@bexlen/app',
                '@bexlen/server',
                '@bexlen/api',
                '@bexlen/render',
                'sharp',
                'express',
              ],
              message: 'The core stands alone.',
            },
          ],
        },
      ],
      'no-restricted-globals': ['error', 'window', 'document', 'fetch', 'process', 'localStorage'],
    },
  },
  {
    files: ['app/**/*.tsx', 'app/**/*.ts'],
    plugins: { 'react-hooks': hooks },
    rules: { 'react-hooks/rules-of-hooks': 'error', 'react-hooks/exhaustive-deps': 'error' },
  },
  {
    // A promise that fails where nobody waits for it would end the process.
    files: ['api/**/*.ts', 'render/**/*.ts', 'server/**/*.ts', 'cli/**/*.ts'],
    languageOptions: { parserOptions: { projectService: true, tsconfigRootDir: import.meta.dirname } },
    rules: {
      '@typescript-eslint/no-floating-promises': ['error', { ignoreVoid: false }],
      '@typescript-eslint/no-misused-promises': 'error',
    },
  },
  {
    files: ['scripts/**/*.mjs'],
    languageOptions: { globals: { process: 'readonly', console: 'readonly', URL: 'readonly' } },
  },
);
