import prettier from 'eslint-config-prettier';
import globals from 'globals';
import tseslint from 'typescript-eslint';
import { noCircles } from './eslint-rules/noCircles.mjs';

/** Imports that a folder must not make: dependencies point one way (docs/architecture.md). */
const forbid = (...groups) => ({
  'no-restricted-imports': [
    'error',
    {
      patterns: groups.map((g) => ({
        group: [`@/${g}/**`, `**/${g}/**`],
        message: 'Dependencies point one way: app, studio, render-worker, cli -> server, compute -> core.',
      })),
    },
  ],
});

export default tseslint.config(
  {
    ignores: [
      '.next/**',
      '.build/**',
      '.data/**',
      '.scratch/**',
      'node_modules/**',
      'next-env.d.ts',
      'core/kernels/generated.ts',
      'core/kernels/source/**',
    ],
  },
  {
    files: ['**/*.ts', '**/*.tsx'],
    extends: [...tseslint.configs.recommendedTypeChecked],
    languageOptions: { parserOptions: { projectService: true, tsconfigRootDir: import.meta.dirname } },
    plugins: { house: { rules: { 'no-circles': noCircles } } },
    rules: {
      'house/no-circles': 'error',
      'one-var': ['error', 'never'],
      '@typescript-eslint/no-explicit-any': 'error',
      '@typescript-eslint/no-unused-vars': ['error', { argsIgnorePattern: '^_' }],
      '@typescript-eslint/no-misused-promises': ['error', { checksVoidReturn: { attributes: false } }],
      'no-restricted-syntax': [
        'error',
        { selector: 'ExportDefaultDeclaration', message: 'No default exports but where Next demands them.' },
        ...[
          'VariableDeclarator > Identifier.id',
          ':function > Identifier.params',
          'ObjectPattern > Property > Identifier.value',
        ].map((binding) => ({
          selector: `${binding}[name=/^(one|own|told|of)$/]`,
          message: 'A name that says nothing without the line above: call it by what it is.',
        })),
      ],
      // Our objects are closures, and methods of React's props never use `this`.
      '@typescript-eslint/unbound-method': 'off',
      eqeqeq: 'error',
      'no-nested-ternary': 'error',
      'max-params': ['error', 4],
    },
  },
  { files: ['app/**', 'proxy.ts', 'next.config.ts', 'playwright.config.ts'], rules: { 'no-restricted-syntax': 'off' } },
  { files: ['**/*.mjs'], languageOptions: { globals: globals.node } },
  { files: ['core/**/*.ts'], rules: forbid('server', 'compute', 'studio', 'app', 'cli', 'render-worker') },
  { files: ['core/**/*.test.ts'], rules: { 'no-restricted-imports': 'off' } },
  { files: ['compute/**/*.ts'], rules: forbid('server', 'studio', 'app', 'cli', 'render-worker') },
  { files: ['server/**/*.ts'], rules: forbid('studio', 'app', 'cli', 'render-worker') },
  { files: ['cli/**/*.ts', 'render-worker/**/*.ts'], rules: forbid('studio', 'app') },
  {
    files: ['tests/**', '**/*.test.ts'],
    rules: {
      '@typescript-eslint/require-await': 'off',
      '@typescript-eslint/no-non-null-assertion': 'off',
      '@typescript-eslint/no-unsafe-assignment': 'off',
    },
  },
  prettier,
);
