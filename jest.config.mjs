const transform = { '^.+\\.ts$': ['@swc/jest', { jsc: { target: 'es2022', parser: { syntax: 'typescript' } } }] }
const moduleNameMapper = { '^@/(.*)$': '<rootDir>/web/src/$1', '^@yuzumix/core$': '<rootDir>/core/src/index.ts' }
// Look-ups of globals are slow inside Jest's sandbox; these stand in the hot loops.
const sandboxInjectedGlobals = ['Math', 'Number', 'Float32Array', 'Float64Array', 'Int32Array']
const project = (displayName, testMatch) => ({
  sandboxInjectedGlobals,
  displayName,
  testEnvironment: 'node',
  transform,
  moduleNameMapper,
  testMatch,
})

export default {
  projects: [
    project('core', ['<rootDir>/core/src/**/*.test.ts']),
    project('reference', ['<rootDir>/core/reference/**/*.test.ts']),
    project('server', ['<rootDir>/server/src/**/*.test.ts']),
    project('web', ['<rootDir>/web/src/**/*.test.ts']),
  ],
}
