import express, { type Express } from 'express'
import { callOf, checkInput, problemSchema, problemsOf } from '@yuzumix/core'

type Checked = Parameters<typeof checkInput>[0]
const PREFIX = '/api/v1'
/** Of any address: no such thing, too large. */
const ANYWHERE = [404, 413]

/** What is wrong with an answer by the contract; null when it fits. */
function misfit(method: string, path: string, status: number, body: unknown): string | null {
  const call = callOf(method === 'HEAD' ? 'GET' : method, path)
  if (!call) return [403, 404, 405].includes(status) ? null : 'is no call of the contract'
  if (status >= 400 && ![...problemsOf(call), ...ANYWHERE].includes(status))
    return `answers ${status}, which is not told`
  if (status < 400 && status !== call.status) return `answers ${status} for ${call.status}`
  const schema = status >= 400 ? problemSchema : call.answer
  if (schema === undefined || typeof schema === 'string') return null
  try {
    checkInput(schema as Checked, body)
    return null
  } catch (error) {
    return (error as Error).message
  }
}

/**
 * The application with every JSON answer held against the contract; for tests only.
 *
 * @param onMisfit is told of an answer that does not fit
 */
export function answersFit(app: Express, onMisfit: (what: string) => void): Express {
  const outer = express()
  outer.use((request, response, next) => {
    const send = response.send.bind(response)
    response.send = (body) => {
      const isJson = String(response.get('content-type') ?? '').includes('json')
      const isExport = response.get('content-disposition') !== undefined
      if (
        isJson &&
        !isExport &&
        !response.socket?.destroyed &&
        typeof body === 'string' &&
        request.path.startsWith(PREFIX)
      ) {
        const fault = misfit(request.method, request.path.slice(PREFIX.length), response.statusCode, JSON.parse(body))
        if (fault) onMisfit(`${request.method} ${request.path}: ${fault}`)
      }
      return send(body)
    }
    next()
  })
  outer.use(app)
  return outer
}
