// Scripts and types of everything but components, whose templates another linter reads (eslint.config.mjs).
import { ruleOf, WALLS } from './scripts/walls.mjs'

/** In the interface a function that answers later may stand where none is waited for: as a property, too. */
const promises = (properties) => ({
  'typescript/no-floating-promises': 'error',
  'typescript/no-misused-promises': ['error', { checksVoidReturn: { arguments: false, properties } }],
})
export const PROMISES = promises(false)
/** Of the rules against what is wrong, those that mean something else here. */
const NOT_HERE = {
  // Owners of state hand out functions that need no `this`.
  'typescript/unbound-method': 'off',
  // Yup's conditions have a `then`.
  'unicorn/no-thenable': 'off',
  // A copy is taken of what changes while one goes through it.
  'unicorn/no-useless-spread': 'off',
  'unicorn/no-new-array': 'off',
  'typescript/no-misused-spread': 'off',
  'no-control-regex': 'off',
}

export default {
  plugins: ['typescript', 'import', 'unicorn', 'oxc'],
  categories: { correctness: 'error' },
  ignorePatterns: ['**/dist/**', 'test-results/**', 'playwright-report/**', '**/*.vue'],
  rules: {
    ...NOT_HERE,
    ...promises(true),
    'no-unused-vars': ['error', { argsIgnorePattern: '^_', varsIgnorePattern: '^_' }],
    'no-var': 'error',
    'prefer-const': 'error',
    'prefer-rest-params': 'error',
    'prefer-spread': 'error',
    'no-array-constructor': 'error',
    'typescript/ban-ts-comment': 'error',
    'typescript/consistent-type-imports': 'error',
    'typescript/no-empty-object-type': 'error',
    'typescript/no-explicit-any': 'error',
    'typescript/no-namespace': 'error',
    'typescript/no-require-imports': 'error',
    'typescript/no-unnecessary-type-constraint': 'error',
    'typescript/no-unsafe-function-type': 'error',
    'import/no-cycle': 'error',
  },
  overrides: [
    { files: ['**/*.cjs'], rules: { 'typescript/no-require-imports': 'off' } },
    { files: ['web/src/**/*.ts'], rules: PROMISES },
    ...WALLS.map((wall) => ({ files: wall.files, excludeFiles: wall.ignores ?? [], rules: ruleOf(wall) })),
  ],
}
