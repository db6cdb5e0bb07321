import { randomUUID } from 'node:crypto'
import type { IncomingMessage, ServerResponse } from 'node:http'
import { join } from 'node:path'
import compression from 'compression'
import express, { type Express } from 'express'
import helmet from 'helmet'
import { pino, type Logger } from 'pino'
import { pinoHttp } from 'pino-http'
import { handlersOf } from './http/handlersOf'
import { routesOf } from './http/routes'
import type { Benches } from './sessions/benches'
import type { Workshop } from './acts/questions/ask'
import { remembered } from './pool/remembered'
import type { Access } from './access/access'
import { slowTries } from './http/access'
import { entryWanted } from './http/entry'
import { sameOriginOnly } from './http/guard'
import { refusalLog } from './http/refusalLog'
import { problemHandler, unknownAddress } from './http/problem'
import { callGuard } from './http/callGuard'

export interface AppOptions extends Omit<Workshop, 'answers' | 'doubts'> {
  benches: Benches
  /** the repository's root: docs/ and web/dist are served from there */
  root: string
  version: string
  access: Access
  /** listening beyond loopback */
  open: boolean
  /** it speaks TLS */
  secure?: boolean
  log?: Logger
  /** of requests: who asked for what, and how it went */
  requests?: Logger
}

/** A picture is taken by the system's own camera: the page itself uses nothing of the device. */
const NOTHING_ALLOWED = [
  'camera',
  'microphone',
  'geolocation',
  'usb',
  'serial',
  'bluetooth',
  'payment',
  'midi',
  'display-capture',
]
  .map((one) => `${one}=()`)
  .join(', ')
const LARGEST_JSON = '8mb'
/** Answers kept for whoever asks next: of two or three jobs, some hundred kilobytes each. */
const MOST_ANSWERS = 12

/** The whole application: HTTP interface under /api/v1, the built interface elsewhere. */
export function createApp({
  store,
  pool,
  benches,
  root,
  version,
  access,
  open,
  secure = false,
  log = pino({ level: 'warn' }),
  requests = pino({ level: 'silent' }),
}: AppOptions): Express {
  const app = express()
  app.disable('x-powered-by')
  app.use(
    helmet({
      contentSecurityPolicy: {
        useDefaults: false,
        directives: {
          defaultSrc: ["'self'"],
          scriptSrc: ["'self'"],
          styleSrc: ["'self'"],
          imgSrc: ["'self'", 'data:', 'blob:'],
          fontSrc: ["'self'"],
          connectSrc: ["'self'"],
          workerSrc: ["'self'"],
          objectSrc: ["'none'"],
          baseUri: ["'none'"],
          formAction: ["'self'"],
          frameAncestors: ["'none'"],
        },
      },
      crossOriginEmbedderPolicy: true,
      // Without it a browser calls its own page's origin "null", which is refused.
      referrerPolicy: { policy: 'same-origin' },
      // Over plain HTTP it means nothing; with a certificate the browser is to stay with it.
      strictTransportSecurity: secure && { maxAge: 31_536_000 },
    }),
  )
  app.use(
    pinoHttp({
      logger: requests,
      genReqId: () => randomUUID(),
      customLogLevel: () => 'info',
      serializers: { req: () => undefined, res: () => undefined },
      customSuccessObject: (request, response, told: { responseTime: number }) => logged(request, response, told),
      customErrorObject: (request, response, _error, told: { responseTime: number }) => logged(request, response, told),
    }),
  )
  app.use((_request, response, next) => {
    // Each of the layers that follow an answer listens to it once.
    response.setMaxListeners(24)
    response.setHeader('Permissions-Policy', NOTHING_ALLOWED)
    next()
  })
  const names = (): string[] => (open ? access.names() : [])
  app.use(sameOriginOnly(names))
  const api = express.Router()
  api.use(compression())
  if (open) api.use(entryWanted(access))
  api.use(callGuard)
  api.post(['/access/enter', '/access/join'], slowTries())
  api.use(express.json({ limit: LARGEST_JSON }))
  const context: Workshop = { store, pool, answers: remembered(MOST_ANSWERS), doubts: remembered(MOST_ANSWERS) }
  api.use(routesOf(store, handlersOf(context, benches, version, access, { open, secure })))
  api.use(unknownAddress)
  api.use(refusalLog(store))
  app.use('/api/v1', api)
  const web = join(root, 'web/dist')
  app.use('/assets', express.static(join(web, 'assets'), { immutable: true, maxAge: '1y', fallthrough: false }))
  // The mark is asked for at every change of address; the page itself must be the one that knows its assets.
  const setHeaders = (response: ServerResponse, path: string): void =>
    void (path.endsWith('.svg') && response.setHeader('Cache-Control', 'public, max-age=3600'))
  app.use(express.static(web, { index: 'index.html', setHeaders }))
  app.get(/^\/(?!api\/).*/, (_request, response) => response.sendFile('index.html', { root: web }))
  app.use(problemHandler(log))
  return app
}

/** What is logged of a request and its answer: no query, no bodies, no headers. */
const logged = (
  { id, method, url = '' }: IncomingMessage & { id?: unknown },
  { statusCode }: ServerResponse,
  { responseTime }: { responseTime: number },
): object => ({ id, method, path: url.split('?')[0], status: statusCode, ms: responseTime })
