const swc = [
  '@swc/jest',
  {
    jsc: {
      target: 'es2022',
      parser: { syntax: 'typescript' },
      // NaN is a global, too, and cannot be injected as those below.
      transform: { optimizer: { globals: { vars: { NaN: '(0/0)' } } } },
    },
  },
]
const moduleNameMapper = { '^@/(.*)$': '<rootDir>/web/src/$1', '^@yuzumix/core$': '<rootDir>/core/src/index.ts' }
// Look-ups of globals are slow inside Jest's sandbox; these stand in the hot loops.
const sandboxInjectedGlobals = [
  'Math',
  'Number',
  'Infinity',
  'Float32Array',
  'Float64Array',
  'Int32Array',
  'Uint8Array',
  'Uint32Array',
  'Array',
  'Map',
  'Set',
  'Object',
]
const project = (displayName, testMatch, more = {}) => ({
  sandboxInjectedGlobals,
  displayName,
  testEnvironment: 'node',
  transform: { '^.+\\.ts$': swc },
  moduleNameMapper,
  testMatch,
  ...more,
})

/** What runs in a page, or with it. */
const WEB = {
  transform: { '^.+\\.(ts|js|mjs)$': swc, '^.+\\.vue$': '<rootDir>/scripts/jestVue.cjs' },
  // These packages ship as ES modules only.
  transformIgnorePatterns: ['/node_modules/(?!@vueuse/|d3|internmap|delaunator|robust-predicates|comlink)'],
  // In a page, packages are taken as Node takes them: their browser builds are ES modules.
  testEnvironmentOptions: { customExportConditions: ['node', 'node-addons'] },
  moduleNameMapper: { ...moduleNameMapper, '\\.css$': '<rootDir>/scripts/noStyle.cjs' },
}

/** Folders whose tests start whole servers on stores of their own. */
const WHOLE = ['http', 'store', 'stream']

export default {
  // A loaded machine is no fault: a test that waits for a worker thread may take its time.
  testTimeout: 120_000,
  projects: [
    project('core', ['<rootDir>/core/src/**/*.test.ts']),
    project('reference', ['<rootDir>/core/reference/**/*.test.ts']),
    project('trials', ['<rootDir>/core/trials/**/*.test.ts']),
    project('server', ['<rootDir>/server/src/**/*.test.ts'], {
      testPathIgnorePatterns: WHOLE.map((name) => `<rootDir>/server/src/${name}/`),
    }),
    project(
      'http',
      WHOLE.map((name) => `<rootDir>/server/src/${name}/**/*.test.ts`),
    ),
    project('both', ['<rootDir>/e2e/**/*.test.ts'], WEB),
    project('web', ['<rootDir>/web/src/**/*.test.ts'], WEB),
  ],
}
