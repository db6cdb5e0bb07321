// The program of types is to see of a component what the linter's parser will hand it: the script, at its place.
// Seen as the whole file at first, every component linted changes the program, and all types are made anew (three times
// the time of the whole lint).
import { parseForESLint } from 'vue-eslint-parser'
import ts from 'typescript'
import { parser } from 'typescript-eslint'

const nowhere = { line: 1, column: 0 }
const NOTHING = {
  ast: {
    type: 'Program',
    sourceType: 'module',
    body: [],
    tokens: [],
    comments: [],
    range: [0, 0],
    loc: { start: nowhere, end: nowhere },
  },
}

/** The script of a component's file as text, what stands before it blanked; empty where there is none or the file is broken. */
function scriptOf(filePath, source) {
  let script = ''
  const taker = {
    parseForESLint(code) {
      script = code
      return NOTHING
    },
  }
  try {
    parseForESLint(source, { filePath, sourceType: 'module', parser: { ts: taker, '<template>': parser } })
  } catch {
    // A broken component is told by the lint of its own file.
  }
  return script
}

/** Lets `typescript` read components as their scripts, in this process. */
export function readComponentsAsScripts() {
  const read = ts.sys.readFile
  ts.sys.readFile = (path, encoding) => {
    const text = read(path, encoding)
    return text !== undefined && path.endsWith('.vue') ? scriptOf(path, text) : text
  }
}
