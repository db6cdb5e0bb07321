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
  ['express', 'sequelize', 'sqlite3', 'umzug', 'multer', 'piscina'],
  'The core knows no network and no storage.',
]
const UPWARD = [
  ['**/server/**', '**/web/**', '@yuzumix/server*', '@yuzumix/web*', '@yuzumix/core'],
  'The core imports from itself by path only.',
]
const CORE = [NODE, INTERFACE, STORAGE, UPWARD]
const TESTS = ['**/*.test.ts']

/**
 * Rooms of the core, and the rooms below that each may know: no other arrow is drawn. Domain types stand below the contract,
 * which puts schemas on them; what is asked, told and judged of a job stands on top of it.
 */
const ROOMS = {
  // Every room may refuse.
  refusal: [],
  numbers: [],
  fuel: [],
  air: [],
  table: ['numbers'],
  run: ['numbers', 'air', 'table'],
  log: ['numbers', 'fuel', 'table', 'run'],
  field: ['numbers', 'fuel', 'table', 'run'],
  curves: ['numbers', 'air', 'table', 'run', 'field'],
  change: ['numbers', 'fuel', 'table', 'field', 'spark'],
  spark: ['numbers', 'table', 'run', 'curves', 'change'],
  delivery: ['numbers', 'fuel', 'table', 'field', 'change'],
  response: ['numbers', 'table', 'run', 'field', 'change'],
  jetting: ['numbers', 'fuel', 'air', 'run', 'field'],
  plan: ['numbers', 'table', 'run', 'field', 'change'],
  strip: ['numbers', 'run'],
  checks: ['numbers', 'table', 'run', 'curves'],
  rig: ['numbers', 'fuel', 'table', 'run', 'field', 'change', 'spark'],
  // The engine shares nothing with the estimator but table look-up.
  simulator: ['numbers', 'fuel', 'table', 'run', 'rig', 'jetting'],
  trainer: ['numbers', 'fuel', 'field', 'rig', 'simulator'],
  contract: [
    ...[
      'numbers',
      'fuel',
      'air',
      'table',
      'run',
      'log',
      'field',
      'curves',
      'change',
      'spark',
      'delivery',
      'response',
      'jetting',
      'plan',
      'strip',
    ],
    ...['checks', 'rig', 'simulator', 'trainer'],
  ],
  words: ['fuel', 'table', 'field', 'numbers', 'delivery', 'strip'],
  gate: ['fuel', 'numbers', 'table', 'run', 'field', 'change', 'rig', 'contract', 'question'],
  brief: ['numbers', 'fuel', 'table', 'field', 'plan', 'rig', 'contract'],
  shelf: ['numbers', 'fuel', 'table', 'contract'],
  question: [
    ...['numbers', 'fuel', 'table', 'run', 'field', 'curves', 'change', 'spark', 'delivery', 'response'],
    ...['jetting', 'plan', 'rig', 'contract', 'brief', 'words'],
  ],
  // A report words and draws what was worked out; it works nothing out.
  report: ['numbers', 'table', 'field', 'curves', 'change', 'checks', 'contract', 'brief', 'words'],
}
const walled = ([name, below]) => {
  const others = Object.keys(ROOMS).filter((one) => one !== name && one !== 'refusal' && !below.includes(one))
  return {
    files: [`core/src/${name}/**/*.ts`],
    ignores: TESTS,
    forbidden: [
      ...CORE,
      [others.map((one) => `**/${one}/**`), `${name} knows ${below.join(', ') || 'no other room'}.`],
    ],
  }
}

const SERVER = [['**/web/**', '@yuzumix/web*', 'vue', '@/*'], 'The server does not know the interface.']
const OVER_HTTP = [
  ['**/server/**', '@yuzumix/server*', 'node:*'],
  'The interface speaks with the server over HTTP only.',
]
const STAGES = ['baseline', 'brief', 'change', 'handover', 'jetting', 'mixture', 'response', 'rigging', 'spark']

export const WALLS = [
  { files: ['core/src/**/*.ts'], forbidden: CORE },
  ...Object.entries(ROOMS).map(walled),
  { files: ['server/src/**/*.ts'], forbidden: [SERVER] },
  {
    files: ['acts', 'archive', 'intake', 'pool', 'sessions', 'store'].map((one) => `server/src/${one}/**/*.ts`),
    ignores: TESTS,
    forbidden: [SERVER, [['**/http/**', 'express', 'multer'], 'What is done does not know who asked for it.']],
  },
  {
    files: ['server/src/rigs/**/*.ts'],
    ignores: TESTS,
    forbidden: [
      SERVER,
      [
        ['**/http/**', '**/sessions/**', '**/acts/**', '**/store/**', 'express', 'multer'],
        'A link to a rig knows no session that runs on it.',
      ],
    ],
  },
  {
    files: ['server/src/folder/**/*.ts'],
    ignores: TESTS,
    forbidden: [
      SERVER,
      [
        ['**/http/**', '**/sessions/**', '**/acts/**', '**/store/**', 'express', 'multer', 'sequelize'],
        'The folder is kept whole without knowing what lies in its store.',
      ],
    ],
  },
  // One test reads the sources.
  { files: ['web/src/**/*.{ts,vue}'], ignores: ['web/src/elementStyles.test.ts'], forbidden: [OVER_HTTP] },
  {
    files: ['web/src/{parts,workers,job,api,stores}/**/*.{ts,vue}'],
    forbidden: [
      OVER_HTTP,
      [
        ['@/stages/*', '@/stages/**', '@/pages/**', '@/shell/**', '@/bench/**'],
        'What several use does not know who uses it.',
      ],
    ],
  },
  ...STAGES.map((stage) => ({
    files: [`web/src/stages/${stage}/**/*.{ts,vue}`],
    forbidden: [
      OVER_HTTP,
      [
        [...STAGES.filter((one) => one !== stage).map((one) => `@/stages/${one}/**`), '@/pages/**', '@/bench/**'],
        'Stages do not import each other, nor a page, nor the live link.',
      ],
    ],
  })),
]

/** A wall as the rule that holds it. */
export const ruleOf = ({ forbidden }) => ({
  'no-restricted-imports': ['error', { patterns: forbidden.map(([group, message]) => ({ group, message })) }],
})
