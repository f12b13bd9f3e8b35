import js from '@eslint/js';
import reactHooks from 'eslint-plugin-react-hooks';
import tseslint from 'typescript-eslint';

export default tseslint.config(
  { ignores: ['**/dist/**', '**/node_modules/**', '**/test-results/**', '**/.yield*/**'] },
  js.configs.recommended,
  {
    files: ['**/*.{ts,tsx}'],
    extends: [...tseslint.configs.strict],
    // The rules that need types are in .oxlintrc.json.
    rules: {
      // An index that the loop keeps in bounds may be asserted; a hot loop cannot afford the check.
      '@typescript-eslint/no-non-null-assertion': 'off',
      '@typescript-eslint/no-unused-vars': ['error', { argsIgnorePattern: '^_', varsIgnorePattern: '^_' }],
      '@typescript-eslint/no-invalid-void-type': 'off',
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
