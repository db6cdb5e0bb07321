import { lineStandIn } from '../server/src/rigs/lineStandIn'

/** A sender of live lines for the bench, until it is ended: `npm run lines`. */
const { port } = await lineStandIn({ port: Number(process.env['LINES_PORT'] ?? 5190) })
console.log(`Lines of a machine at 127.0.0.1:${port}. Connect the bench of a job to it; Ctrl-C ends it.`)
