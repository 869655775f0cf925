import js from '@eslint/js';
import prettier from 'eslint-config-prettier';
import vue from 'eslint-plugin-vue';
import globals from 'globals';
import tseslint from 'typescript-eslint';

export default tseslint.config(
  { ignores: ['**/dist/**', '**/node_modules/**', 'data/**', 'docs/schemas/**', '.cache/**'] },
  js.configs.recommended,
  ...tseslint.configs.recommended,
  ...vue.configs['flat/recommended'],
  prettier,
  {
    files: ['**/*.vue'],
    languageOptions: {
      parserOptions: { parser: tseslint.parser, extraFileExtensions: ['.vue'] },
      globals: globals.browser,
    },
    rules: { 'vue/multi-word-component-names': 'off', 'no-undef': 'off' },
  },
  { files: ['packages/web/**'], languageOptions: { globals: globals.browser } },
  {
    files: ['**/*.mjs', 'scripts/**', '.dependency-cruiser.cjs', 'bench/**', 'tests/**'],
    languageOptions: { globals: globals.node },
  },
  {
    files: ['packages/*/src/**/*.ts', 'tests/**/*.ts', 'bench/**/*.ts'],
    languageOptions: {
      parserOptions: { projectService: { allowDefaultProject: [] }, tsconfigRootDir: import.meta.dirname },
    },
    rules: {
      '@typescript-eslint/no-floating-promises': 'error',
      '@typescript-eslint/no-misused-promises': ['error', { checksVoidReturn: false }],
      '@typescript-eslint/await-thenable': 'error',
      '@typescript-eslint/switch-exhaustiveness-check': 'error',
    },
  },
  {
    files: ['**/*.ts', '**/*.vue'],
    rules: {
      'no-undef': 'off',
      '@typescript-eslint/no-unused-vars': ['error', { argsIgnorePattern: '^_' }],
      '@typescript-eslint/no-explicit-any': 'error',
      eqeqeq: ['error', 'always'],
      'no-console': 'error',
      'max-lines': ['error', { max: 420, skipBlankLines: true, skipComments: true }],
    },
  },
  { files: ['bench/**', 'scripts/**'], rules: { 'no-console': 'off' } },
  {
    files: ['**/*.ts', '**/*.mjs'],
    // Scenes are drawings.
    ignores: ['packages/demo/src/scenes/**'],
    rules: {
      'max-len': [
        'error',
        { code: 110, ignoreStrings: true, ignoreTemplateLiterals: true, ignoreRegExpLiterals: true },
      ],
    },
  },
  {
    files: ['packages/engine/src/bring-in/bring-in.ts', 'tests/integration/engine-video.test.ts'],
    rules: { 'max-lines': ['error', { max: 580, skipBlankLines: true, skipComments: true }] },
  },
  {
    files: ['packages/core/src/**/*.ts'],
    ignores: ['**/*.test.ts'],
    rules: {
      'no-restricted-globals': ['error', 'window', 'document', 'process', 'Buffer', 'fetch'],
      'no-restricted-imports': ['error', { patterns: ['node:*', 'vue', 'vue-*'] }],
    },
  },
);
