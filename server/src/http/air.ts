import { Router } from 'express'
import {
  airDensity,
  checkInput,
  CORRECTIONS,
  densityAltitude,
  dryPressure,
  vapourPressure,
  weatherSchema,
} from '@yuzumix/core'
import type { Context } from './context'

/** What a weather makes of the air, and what every standard makes of it. */
export function airRoutes(_context: Context): Router {
  const router = Router()
  router.post('/air', (request, response) => {
    const weather = checkInput(weatherSchema, request.body)
    const density = airDensity(weather)
    response.json({
      vapourKpa: vapourPressure(weather),
      dryKpa: dryPressure(weather),
      density,
      densityAltitudeM: densityAltitude(density),
      corrections: CORRECTIONS.map(({ id, name, reference, factor, outside }) => ({
        id,
        name,
        reference,
        factor: factor(weather),
        outside: outside(weather),
      })),
    })
  })
  return router
}
