const transform = { '^.+\\.ts$': ['@swc/jest', { jsc: { target: 'es2022', parser: { syntax: 'typescript' } } }] }
const moduleNameMapper = { '^@yuzumix/core$': '<rootDir>/core/src/index.ts' }
const project = (displayName, testMatch) => ({
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
