import ts from 'typescript-eslint'
import vue from 'eslint-plugin-vue'
import { readComponentsAsScripts } from './scripts/scriptOfComponent.mjs'

readComponentsAsScripts()

/** Dependencies point one way: web -> core <- server. What a file must not import, and why. */
const wall = (files, forbidden, ignores = []) => ({
  files: [files],
  ignores,
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
const CORE = [NODE, INTERFACE, STORAGE, UPWARD]
/** A room of the core must not know some others. Later walls replace earlier ones, so each names all of its own. */
const room = (name, others, message) =>
  wall(`core/src/${name}/**/*.ts`, [...CORE, [others.map((one) => `../${one}/*`), message]], ['**/*.test.ts'])
const STAGES = ['baseline', 'brief', 'change', 'jetting', 'mixture', 'response', 'spark']

/** Rules that need types take most of the time; `npm run test:quick` leaves them to `npm run lint` and `npm test`. */
const isQuick = process.env.YUZUMIX_LINT === 'quick'
const TYPED = [
  {
    files: [
      'core/src/**/*.ts',
      'core/reference/**/*.ts',
      'server/src/**/*.ts',
      'demo/**/*.ts',
      'e2e/**/*.ts',
      'benchmarks/**/*.ts',
    ],
    languageOptions: { parserOptions: { project: './tsconfig.json' } },
    rules: {
      '@typescript-eslint/no-floating-promises': 'error',
      '@typescript-eslint/no-misused-promises': ['error', { checksVoidReturn: { arguments: false } }],
    },
  },
  {
    files: ['web/src/**/*.ts', 'web/src/**/*.vue'],
    languageOptions: { parserOptions: { project: './web/tsconfig.json', extraFileExtensions: ['.vue'] } },
    rules: {
      '@typescript-eslint/no-floating-promises': 'error',
      '@typescript-eslint/no-misused-promises': [
        'error',
        { checksVoidReturn: { arguments: false, properties: false } },
      ],
    },
  },
]

export default ts.config(
  { ignores: ['**/dist/**', '**/node_modules/**', 'test-results/**', 'playwright-report/**'] },
  ...ts.configs.recommended,
  ...vue.configs['flat/recommended'],
  {
    files: ['**/*.cjs'],
    rules: { '@typescript-eslint/no-require-imports': 'off' },
    languageOptions: { globals: { module: 'writable', require: 'readonly' } },
  },
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
  ...(isQuick ? [] : TYPED),
  wall('core/src/**/*.ts', CORE),
  room('numbers', ['!(numbers)'], 'Numbers know no trade.'),
  room('simulator', ['field', 'change'], 'The engine shares nothing with the estimator but table look-up.'),
  room(
    'field',
    ['simulator', 'rig', 'change', 'curves', 'spark', 'plan', 'job'],
    'The estimator knows readings and tables only.',
  ),
  room(
    'run',
    ['log', 'field', 'curves', 'rig', 'simulator', 'spark', 'plan', 'job'],
    'What a run is does not hang on who reads it or what is made of it.',
  ),
  room(
    'log',
    ['field', 'curves', 'rig', 'simulator', 'spark', 'plan', 'job', 'change'],
    'Reading files is all that log does.',
  ),
  room(
    'response',
    ['simulator', 'plan', 'job', 'log', 'trainer', 'jetting', 'spark'],
    'The answer to the hand is told by runs and tables.',
  ),
  room('curves', ['rig', 'simulator', 'spark', 'plan', 'job', 'change', 'log'], 'Curves are made of runs.'),
  room('rig', ['simulator', 'trainer'], 'What holds for every rig does not know the simulated one.'),
  wall('server/src/**/*.ts', [
    [['**/web/**', '@yuzumix/web*', 'vue', '@/*'], 'The server does not know the interface.'],
  ]),
  ...['acts', 'archive', 'intake', 'pool', 'rigs', 'store'].map((room) =>
    wall(
      `server/src/${room}/**/*.ts`,
      [
        [['**/web/**', '@yuzumix/web*', 'vue', '@/*'], 'The server does not know the interface.'],
        [['../http/*', 'express', 'multer'], 'What is done does not know who asked for it.'],
      ],
      ['**/*.test.ts'],
    ),
  ),
  wall(
    'web/src/**/*.{ts,vue}',
    [[['**/server/**', '@yuzumix/server*', 'node:*'], 'The interface speaks with the server over HTTP only.']],
    // It reads the sources.
    ['web/src/elementStyles.test.ts'],
  ),
  wall('web/src/{parts,workers,job,api,stores}/**/*.{ts,vue}', [
    [['**/server/**', '@yuzumix/server*', 'node:*'], 'The interface speaks with the server over HTTP only.'],
    [
      ['@/stages/*', '@/stages/**', '@/pages/**', '@/shell/**', '@/rig/**'],
      'What several use does not know who uses it.',
    ],
  ]),
  ...STAGES.map((stage) =>
    wall(`web/src/stages/${stage}/**/*.{ts,vue}`, [
      [['**/server/**', '@yuzumix/server*', 'node:*'], 'The interface speaks with the server over HTTP only.'],
      [STAGES.filter((one) => one !== stage).map((one) => `@/stages/${one}/**`), 'Stages do not import each other.'],
    ]),
  ),
)
