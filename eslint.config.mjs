import ts from 'typescript-eslint'
import vue from 'eslint-plugin-vue'

/** Dependencies point one way: web -> core <- server. The core is pure computation. */
const onlyCore = (from, forbidden) => ({
  files: [from],
  rules: {
    'no-restricted-imports': ['error', { patterns: forbidden.map(([group, message]) => ({ group, message })) }],
  },
})
const NODE = [
  ['node:*', 'fs', 'path', 'crypto', 'stream', 'worker_threads', 'os', 'http', 'child_process'],
  'The core imports no Node module.',
]
const INTERFACE = [
  ['vue', 'vue-router', 'pinia', 'element-plus*', '@vueuse/*', 'd3', 'comlink'],
  'The core knows no interface.',
]
const STORAGE = [
  ['express', 'sequelize', 'sqlite3', 'umzug', 'multer', 'piscina', 'exceljs'],
  'The core knows no network and no storage.',
]
const UPWARD = [
  ['**/server/**', '**/web/**', '@yuzumix/server*', '@yuzumix/web*', '@yuzumix/core'],
  'The core imports from itself by path only.',
]

export default ts.config(
  { ignores: ['**/dist/**', '**/node_modules/**', 'test-results/**', 'playwright-report/**'] },
  ...ts.configs.recommended,
  ...vue.configs['flat/recommended'],
  {
    languageOptions: { parserOptions: { parser: ts.parser } },
    rules: {
      '@typescript-eslint/no-unused-vars': ['error', { argsIgnorePattern: '^_', varsIgnorePattern: '^_' }],
      '@typescript-eslint/no-non-null-assertion': 'off',
      '@typescript-eslint/consistent-type-imports': 'error',
      'vue/multi-word-component-names': 'off',
      // Layout of templates is prettier's matter.
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
  onlyCore('core/src/**/*.ts', [NODE, INTERFACE, STORAGE, UPWARD]),
  onlyCore('core/src/engine/**/*.ts', [
    NODE,
    INTERFACE,
    STORAGE,
    UPWARD,
    [['../field/*', '../change/*'], 'The engine shares nothing with the estimator but table look-up.'],
  ]),
  onlyCore('core/src/field/**/*.ts', [
    NODE,
    INTERFACE,
    STORAGE,
    UPWARD,
    [['../engine/*'], 'The estimator must not know the simulated engine.'],
  ]),
  onlyCore('server/src/**/*.ts', [
    [['**/web/**', '@yuzumix/web*', 'vue', '@/*'], 'The server does not know the interface.'],
  ]),
  onlyCore('web/src/**/*.{ts,vue}', [
    [['**/server/**', '@yuzumix/server*', 'node:*'], 'The interface speaks with the server over HTTP only.'],
  ]),
)
