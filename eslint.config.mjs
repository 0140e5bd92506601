import a11y from 'eslint-plugin-jsx-a11y';
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
    files: ['src/**/*.ts', 'src/**/*.tsx'],
    languageOptions: { parserOptions: { projectService: true } },
    rules: {
      '@typescript-eslint/no-floating-promises': 'error',
      '@typescript-eslint/no-misused-promises': ['error', { checksVoidReturn: false }],
      '@typescript-eslint/await-thenable': 'error',
      '@typescript-eslint/switch-exhaustiveness-check': [
        'error',
        { considerDefaultExhaustiveForUnions: true },
      ],
    },
  },
  {
    files: ['src/server/**/*.ts', 'src/app/**/*.ts'],
    ignores: ['**/*.test.ts', 'src/server/testing/**'],
    rules: {
      'no-restricted-syntax': [
        'error',
        {
          selector: "CallExpression[callee.property.name='query'][callee.object.callee.name='models']",
          message: 'Statements of the database stand in src/db.',
        },
      ],
    },
  },
  {
    files: ['src/**/*.tsx'],
    ...a11y.flatConfigs.recommended,
    rules: {
      ...a11y.flatConfigs.recommended.rules,
      // A dialog that opens has its first field in focus, as its pattern asks (WAI-ARIA, dialog).
      'jsx-a11y/no-autofocus': 'off',
    },
  },
  {
    files: ['src/**/*.tsx', 'src/ui/**/*.ts'],
    plugins: { 'react-hooks': reactHooks },
    rules: { ...reactHooks.configs['recommended-latest'].rules, 'react-hooks/incompatible-library': 'off' },
  },
  {
    files: ['src/core/**/*.ts', 'src/media/*/core/**/*.ts', 'src/media/{formats,ways,way,head,look}.ts'],
    ignores: ['**/*.test.ts', 'src/core/testing/**'],
    rules: { 'no-restricted-globals': ['error', ...PLATFORM_GLOBALS] },
  },
);
