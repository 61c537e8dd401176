import vue from 'eslint-plugin-vue';
import tseslint from 'typescript-eslint';
import vueParser from 'vue-eslint-parser';

const projects = ['packages/*/tsconfig.json', 'packages/*/tsconfig.tests.json', 'lab/tsconfig.json', 'scripts/tsconfig.json'];
const languageOptions = { parserOptions: { project: projects, tsconfigRootDir: import.meta.dirname } };

/** The rooms of the core, lowest first. A file may import from its own room and from those below. */
const ROOMS = ['collect', 'net', 'rules', 'site', 'dialects', 'crossing', 'exposure', 'case', 'intake', 'evidence', 'proposals', 'forms', 'words', 'diagnosis', 'mend', 'bench', 'openings', 'handover'];
/** `site` holds programs and `rules` points to sources: the types of these two know each other. */
const ALSO = { rules: ['site'] };

const roomRules = ROOMS.map((room, i) => ({
  files: [`packages/core/src/${room}/**/*.ts`],
  ignores: ['**/*.test.ts', '**/testSite.ts'],
  rules: {
    'no-restricted-imports': ['error', {
      patterns: [
        { group: ROOMS.slice(i + 1).filter((r) => !(ALSO[room] ?? []).includes(r)).flatMap((r) => [`../${r}/**`, `../../${r}/**`, `../../../${r}/**`]), message: `“${room}” may only import from rooms below it (docs/architecture.md).` },
        { group: ['node:*', '@bright-ferry/*'], message: 'The core knows no Node, no DOM and no network.' },
      ].filter((p) => p.group.length > 0),
    }],
    'no-restricted-globals': ['error', 'window', 'document', 'process', 'fetch', 'navigator', 'setTimeout', 'Buffer'],
  },
}));

export default tseslint.config(
  { ignores: ['**/dist/**', '**/node_modules/**', '.cache/**', 'coverage/**', '**/*.cjs', 'docs/**'] },
  { files: ['**/*.mjs'], languageOptions: { ecmaVersion: 2024, sourceType: 'module' }, rules: { 'no-unused-vars': 'error', 'no-undef': 'off' } },
  ...tseslint.configs.recommended.map((c) => ({ ...c, files: ['**/*.ts', '**/*.mts', '**/*.vue'] })),
  {
    files: ['**/*.ts'],
    languageOptions,
    rules: {
      '@typescript-eslint/no-floating-promises': 'error',
      '@typescript-eslint/no-misused-promises': 'error',
      '@typescript-eslint/switch-exhaustiveness-check': 'off',
      '@typescript-eslint/no-non-null-assertion': 'off',
      '@typescript-eslint/no-unused-vars': ['error', { argsIgnorePattern: '^_', varsIgnorePattern: '^_' }],
      eqeqeq: 'error', 'no-eval': 'error', 'no-console': 'error', 'no-constant-condition': 'error',
    },
  },
  { files: ['scripts/**/*.ts', 'lab/**/*.ts'], rules: { 'no-console': 'off' } },
  ...vue.configs['flat/essential'].map((c) => ({ ...c, files: ['**/*.vue'] })),
  {
    files: ['**/*.vue'],
    languageOptions: { parser: vueParser, parserOptions: { parser: tseslint.parser, sourceType: 'module' } },
    rules: { 'vue/no-v-html': 'error', 'vue/multi-word-component-names': 'off', '@typescript-eslint/no-unused-vars': ['error', { argsIgnorePattern: '^_', varsIgnorePattern: '^_' }] },
  },
  ...roomRules,
);
