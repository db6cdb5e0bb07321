// Components with their templates. All else is linted with types (oxlint.config.mjs).
import ts from 'typescript-eslint'
import vue from 'eslint-plugin-vue'
import { ruleOf, WALLS } from './scripts/walls.mjs'

export default ts.config(
  { ignores: ['**/dist/**', '**/node_modules/**', '**/*.{ts,mjs,cjs,js}'] },
  {
    files: ['**/*.vue'],
    extends: [...ts.configs.recommended, ...vue.configs['flat/recommended']],
    languageOptions: { parserOptions: { parser: ts.parser } },
    rules: {
      '@typescript-eslint/no-unused-vars': ['error', { argsIgnorePattern: '^_', varsIgnorePattern: '^_' }],
      '@typescript-eslint/no-non-null-assertion': 'off',
      '@typescript-eslint/consistent-type-imports': 'error',
      'vue/multi-word-component-names': 'off',
      // Layout of templates is the formatter's matter.
      'vue/max-attributes-per-line': 'off',
      'vue/singleline-html-element-content-newline': 'off',
      'vue/multiline-html-element-content-newline': 'off',
      'vue/html-indent': 'off',
      'vue/html-self-closing': 'off',
      'vue/html-closing-bracket-newline': 'off',
      'vue/require-default-prop': 'off',
      'vue/first-attribute-linebreak': 'off',
    },
  },
  ...WALLS.filter(({ files }) => files.some((one) => one.startsWith('web/'))).map((wall) => ({
    files: wall.files,
    ignores: wall.ignores ?? [],
    rules: ruleOf(wall),
  })),
)
