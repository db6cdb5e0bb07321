// Compiles single-file components for Jest: script and template to one module, styles left out.
const { createHash } = require('node:crypto')
const { compileScript, parse } = require('@vue/compiler-sfc')
const { transformSync } = require('@swc/core')

const swc = {
  jsc: { target: 'es2022', parser: { syntax: 'typescript' } },
  module: { type: 'commonjs' },
  sourceMaps: 'inline',
}

module.exports = {
  getCacheKey: (source, path, { configString }) =>
    createHash('sha256').update(source).update(path).update(configString).digest('hex'),
  process(source, path) {
    const { descriptor, errors } = parse(source, { filename: path })
    if (errors.length) throw errors[0]
    const { content } = compileScript(descriptor, { id: path, inlineTemplate: true })
    return { code: transformSync(content, { ...swc, filename: `${path}.ts` }).code }
  },
}
