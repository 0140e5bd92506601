import reactHooks from 'eslint-plugin-react-hooks';
import tseslint from 'typescript-eslint';

const PLATFORM_GLOBALS = [
  'process',
  'Buffer',
  'window',
  'document',
  'localStorage',
  'require',
  'setImmediate',
  '__dirname',
];

export default tseslint.config(
  { ignores: ['node_modules', '.next', '.data', 'next-env.d.ts', 'test-results', 'playwright-report'] },
  ...tseslint.configs.strict,
  {
    linterOptions: { reportUnusedDisableDirectives: 'error' },
    rules: {
      '@typescript-eslint/no-non-null-assertion': 'off',
      '@typescript-eslint/no-dynamic-delete': 'off',
      '@typescript-eslint/no-confusing-void-expression': 'off',
      '@typescript-eslint/unified-signatures': 'off',
      '@typescript-eslint/no-empty-object-type': ['error', { allowInterfaces: 'with-single-extends' }],
      'no-console': 'error',
      eqeqeq: 'error',
      'max-lines': ['error', { max: 460, skipBlankLines: true, skipComments: true }],
    },
  },
  {
    files: ['src/**/*.tsx', 'src/ui/**/*.ts'],
    plugins: { 'react-hooks': reactHooks },
    rules: { ...reactHooks.configs['recommended-latest'].rules, 'react-hooks/incompatible-library': 'off' },
  },
  {
    files: ['src/core/**/*.ts'],
    ignores: ['**/*.test.ts', 'src/core/testing/**'],
    rules: { 'no-restricted-globals': ['error', ...PLATFORM_GLOBALS] },
  },
);
