import js from '@eslint/js';
import reactHooks from 'eslint-plugin-react-hooks';
import tseslint from 'typescript-eslint';

export default tseslint.config(
  { ignores: ['**/dist/**', '**/node_modules/**', '**/test-results/**', '**/.yield*/**'] },
  js.configs.recommended,
  {
    files: ['**/*.{ts,tsx}'],
    extends: [...tseslint.configs.strictTypeChecked],
    languageOptions: {
      parserOptions: {
        // Two programs for all: types are worked out once, not once a package.
        project: ['tsconfig.json', 'apps/web/tsconfig.json'],
        tsconfigRootDir: import.meta.dirname,
      },
    },
    rules: {
      '@typescript-eslint/restrict-template-expressions': ['error', { allowNumber: true }],
      // An index that the loop keeps in bounds may be asserted; a hot loop cannot afford the check.
      '@typescript-eslint/no-non-null-assertion': 'off',
      '@typescript-eslint/no-confusing-void-expression': ['error', { ignoreArrowShorthand: true }],
      '@typescript-eslint/no-unused-vars': ['error', { argsIgnorePattern: '^_', varsIgnorePattern: '^_' }],
      '@typescript-eslint/no-invalid-void-type': 'off',
      // TypeORM takes its entity options as plain objects, though it declares them as a class.
      '@typescript-eslint/no-unsafe-class-instance-assignment': 'off',
      // There are no enums (below): nothing to look for, and a tenth of the time.
      '@typescript-eslint/no-unsafe-enum-assignment': 'off',
      // The store's libraries hand out functions as properties; none of them uses `this`.
      '@typescript-eslint/unbound-method': 'off',
      'no-restricted-syntax': ['error', { selector: 'TSEnumDeclaration', message: 'Use a union of literals.' }],
    },
  },
  { files: ['apps/web/src/**/*.{ts,tsx}'], extends: [reactHooks.configs.flat['recommended-latest']] },
  {
    files: ['scripts/**/*.mjs', '*.cjs', 'eslint.config.js', 'apps/web/public/*.js'],
    languageOptions: {
      globals: {
        process: 'readonly',
        console: 'readonly',
        module: 'writable',
        document: 'readonly',
        window: 'readonly',
        MutationObserver: 'readonly',
        requestAnimationFrame: 'readonly',
        crypto: 'readonly',
        URLSearchParams: 'readonly',
        AbortController: 'readonly',
        localStorage: 'readonly',
        setTimeout: 'readonly',
        clearTimeout: 'readonly',
        fetch: 'readonly',
        performance: 'readonly',
        URL: 'readonly',
        Buffer: 'readonly',
        AbortSignal: 'readonly',
        AudioWorkletProcessor: 'readonly',
        registerProcessor: 'readonly',
        sampleRate: 'readonly',
      },
    },
  },
);
