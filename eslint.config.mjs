import * as regexp from 'eslint-plugin-regexp';
import vue from 'eslint-plugin-vue';
import tseslint from 'typescript-eslint';
import vueParser from 'vue-eslint-parser';
import { house } from './scripts/lint/house.mjs';

const projects = [
  'packages/*/tsconfig.json',
  'packages/*/tsconfig.tests.json',
  'lab/tsconfig.json',
  'scripts/tsconfig.json',
];
const languageOptions = { parserOptions: { project: projects, tsconfigRootDir: import.meta.dirname } };

/** Texts and regular expressions as well: no formatter breaks them, so whoever writes them does. */
const LINE = ['error', { code: 110 }];
/** A file that grows past its subject is parted. */
const FILE = ['error', 250];

/** `core` runs in a tab, a worker, the server and the command line alike. */
const core = {
  files: ['packages/core/src/**/*.ts'],
  plugins: { house },
  rules: { 'house/arrows-down': 'error', 'house/by-index': 'error', 'house/no-circle': 'error' },
};
const coreAlone = {
  files: ['packages/core/src/**/*.ts'],
  ignores: ['**/*.test.ts'],
  rules: {
    'no-restricted-imports': [
      'error',
      {
        patterns: [
          { group: ['node:*', '@bright-ferry/*'], message: 'The core knows no Node, no DOM and no network.' },
        ],
      },
    ],
    'no-restricted-globals': [
      'error',
      'window',
      'document',
      'process',
      'fetch',
      'navigator',
      'setTimeout',
      'Buffer',
    ],
  },
};

export default tseslint.config(
  {
    ignores: [
      '**/dist/**',
      '**/node_modules/**',
      '.cache/**',
      'coverage/**',
      '**/*.cjs',
      'docs/**',
      'packages/core/wasm/**',
    ],
  },
  {
    files: ['**/*.mjs'],
    languageOptions: { ecmaVersion: 2024, sourceType: 'module' },
    rules: { 'no-unused-vars': 'error', 'no-undef': 'off', 'max-len': LINE, 'max-lines': FILE },
  },
  ...tseslint.configs.recommended.map((c) => ({ ...c, files: ['**/*.ts', '**/*.mts', '**/*.vue'] })),
  {
    files: ['**/*.ts'],
    languageOptions,
    plugins: { regexp },
    rules: {
      '@typescript-eslint/no-floating-promises': 'error',
      '@typescript-eslint/no-misused-promises': 'error',
      '@typescript-eslint/switch-exhaustiveness-check': [
        'error',
        { considerDefaultExhaustiveForUnions: true, requireDefaultForNonUnion: false },
      ],
      'regexp/no-super-linear-backtracking': ['error', { report: 'certain' }],
      'regexp/no-super-linear-move': ['error', { ignoreSticky: false, report: 'certain' }],
      '@typescript-eslint/no-unused-vars': ['error', { argsIgnorePattern: '^_', varsIgnorePattern: '^_' }],
      'no-nested-ternary': 'error',
      'max-len': LINE,
      'max-lines': FILE,
      eqeqeq: 'error',
      'no-eval': 'error',
      'no-console': 'error',
      'no-constant-condition': 'error',
    },
  },
  { files: ['scripts/**/*.ts', 'lab/**/*.ts'], rules: { 'no-console': 'off' } },
  ...vue.configs['flat/essential'].map((c) => ({ ...c, files: ['**/*.vue'] })),
  {
    files: ['**/*.vue'],
    languageOptions: { parser: vueParser, parserOptions: { parser: tseslint.parser, sourceType: 'module' } },
    rules: {
      'vue/max-len': LINE,
      'max-lines': FILE,
      'vue/no-v-html': 'error',
      'vue/multi-word-component-names': 'off',
      'vue/no-restricted-syntax': ['error', 'ConditionalExpression > ConditionalExpression'],
      'no-nested-ternary': 'error',
      eqeqeq: 'error',
      'vue/eqeqeq': 'error',
      'no-eval': 'error',
      'no-console': 'error',
      'no-constant-condition': 'error',
      '@typescript-eslint/no-non-null-assertion': 'error',
      '@typescript-eslint/no-unused-vars': ['error', { argsIgnorePattern: '^_', varsIgnorePattern: '^_' }],
    },
  },
  core,
  coreAlone,
);
