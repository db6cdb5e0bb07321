// What needs types in the scripts of components; the rest is told where they are linted whole (eslint.config.mjs).
import { PROMISES } from './oxlint.config.mjs'

export default { plugins: ['typescript'], categories: { correctness: 'off' }, rules: PROMISES }
