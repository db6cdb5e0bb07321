/**
 * Which rooms must not know which, as both linters read it: `files` import nothing that one of `forbidden` matches, and why.
 * Dependencies point one way: web -> core <- server. Later walls replace earlier ones, so each names all of its own.
 */
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
const TESTS = ['**/*.test.ts']
/** A room of the core that must not know some others. */
const room = (name, others, message) => ({
  files: [`core/src/${name}/**/*.ts`],
  ignores: TESTS,
  forbidden: [...CORE, [others.map((one) => `../${one}/*`), message]],
})

const SERVER = [['**/web/**', '@yuzumix/web*', 'vue', '@/*'], 'The server does not know the interface.']
const OVER_HTTP = [
  ['**/server/**', '@yuzumix/server*', 'node:*'],
  'The interface speaks with the server over HTTP only.',
]
const STAGES = ['baseline', 'brief', 'change', 'jetting', 'mixture', 'response', 'spark']

export const WALLS = [
  { files: ['core/src/**/*.ts'], forbidden: CORE },
  room('numbers', ['*'], 'Numbers know no trade.'),
  room('simulator', ['field', 'change'], 'The engine shares nothing with the estimator but table look-up.'),
  room(
    'field',
    ['simulator', 'rig', 'change', 'curves', 'spark', 'plan', 'job', 'report'],
    'The estimator knows readings and tables only.',
  ),
  room(
    'run',
    ['log', 'field', 'curves', 'rig', 'simulator', 'spark', 'plan', 'job', 'report'],
    'What a run is does not hang on who reads it or what is made of it.',
  ),
  room(
    'log',
    ['field', 'curves', 'rig', 'simulator', 'spark', 'plan', 'job', 'report', 'change'],
    'Reading files is all that log does.',
  ),
  room(
    'response',
    ['simulator', 'plan', 'job', 'report', 'log', 'trainer', 'jetting', 'spark'],
    'The answer to the hand is told by runs and tables.',
  ),
  room(
    'report',
    ['field', 'simulator', 'rig', 'trainer', 'log', 'spark', 'response', 'jetting'],
    'A report words and draws what was worked out; it works nothing out.',
  ),
  room('curves', ['rig', 'simulator', 'spark', 'plan', 'job', 'report', 'change', 'log'], 'Curves are made of runs.'),
  room('rig', ['simulator', 'trainer'], 'What holds for every rig does not know the simulated one.'),
  { files: ['server/src/**/*.ts'], forbidden: [SERVER] },
  {
    files: ['acts', 'archive', 'intake', 'pool', 'rigs', 'store'].map((one) => `server/src/${one}/**/*.ts`),
    ignores: TESTS,
    forbidden: [SERVER, [['../http/*', 'express', 'multer'], 'What is done does not know who asked for it.']],
  },
  // One test reads the sources.
  { files: ['web/src/**/*.{ts,vue}'], ignores: ['web/src/elementStyles.test.ts'], forbidden: [OVER_HTTP] },
  {
    files: ['web/src/{parts,workers,job,api,stores}/**/*.{ts,vue}'],
    forbidden: [
      OVER_HTTP,
      [
        ['@/stages/*', '@/stages/**', '@/pages/**', '@/shell/**', '@/rig/**'],
        'What several use does not know who uses it.',
      ],
    ],
  },
  ...STAGES.map((stage) => ({
    files: [`web/src/stages/${stage}/**/*.{ts,vue}`],
    forbidden: [
      OVER_HTTP,
      [STAGES.filter((one) => one !== stage).map((one) => `@/stages/${one}/**`), 'Stages do not import each other.'],
    ],
  })),
]

/** A wall as the rule that holds it. */
export const ruleOf = ({ forbidden }) => ({
  'no-restricted-imports': ['error', { patterns: forbidden.map(([group, message]) => ({ group, message })) }],
})
