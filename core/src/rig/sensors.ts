import { plain } from '../numbers/format'
/** What a calibration has found; null where none was made. */
export interface SensorCalibration {
  /** V of the throttle sensor with the plate shut, and wide open */
  closedVolts: number | null
  openVolts: number | null
  /** what the wideband showed in free air, % oxygen */
  freeAirPct: number | null
}

export const UNCALIBRATED: SensorCalibration = { closedVolts: null, openVolts: null, freeAirPct: null }

/** Oxygen in dry air, % by volume (ISO 2533). */
export const OXYGEN_PCT = 20.95
/** Volts of a throttle sensor nobody has calibrated: its data sheet's middle. */
const SHEET_VOLTS = { closed: 0.45, open: 4.55 }
/** Least volts between shut and wide open of a sensor that follows the plate. */
const LEAST_SPAN = 2
/** Free-air readings further off than this share tell of a sensor that is worn out or not in air. */
const MOST_AIR_ERROR = 0.15

/** Whether the throttle sensor, and the wideband, were calibrated. */
export function isCalibrated(calibration: SensorCalibration): { throttle: boolean; wideband: boolean } {
  return {
    throttle: calibration.closedVolts !== null && calibration.openVolts !== null,
    wideband: calibration.freeAirPct !== null,
  }
}

/** Plate opening that a throttle sensor's volts mean, %; from the data sheet until both ends are known. */
export function plateFromVolts(volts: number, { closedVolts, openVolts }: SensorCalibration): number {
  const [closed, open] =
    closedVolts !== null && openVolts !== null ? [closedVolts, openVolts] : [SHEET_VOLTS.closed, SHEET_VOLTS.open]
  return Math.min(100, Math.max(0, (100 * (volts - closed)) / (open - closed)))
}

/**
 * lambda of a wideband whose gain in free air is known: its pump current, and with it the distance from stoichiometric,
 * is as much too large as its reading of air.
 *
 * @param shown lambda as the sensor shows it without calibration
 */
export function lambdaFromShown(shown: number, { freeAirPct }: SensorCalibration): number {
  return freeAirPct === null ? shown : 1 + (shown - 1) * (OXYGEN_PCT / freeAirPct)
}

/** What is wrong with a calibration, in words; null when it is sound. */
export function calibrationFault({ closedVolts, openVolts, freeAirPct }: SensorCalibration): string | null {
  if (closedVolts !== null && openVolts !== null && openVolts - closedVolts < LEAST_SPAN)
    return `Shut and wide open are only ${plain(openVolts - closedVolts, 2)} V apart; a sensor that follows the plate gives ${LEAST_SPAN} V and more. Open the plate all the way, or look at the sensor.`
  if (freeAirPct !== null && Math.abs(freeAirPct / OXYGEN_PCT - 1) > MOST_AIR_ERROR)
    return `Free air reads ${plain(freeAirPct, 1)} % oxygen instead of ${OXYGEN_PCT} %. Hang the sensor in fresh air and let it warm; if it stays so, the sensor is worn out.`
  return null
}

/** What a run made with sensors that were not calibrated says of itself. */
export const UNCALIBRATED_WARNINGS = {
  throttle: 'The throttle sensor was not calibrated: its stops may stand beside the true ones.',
  wideband: 'The wideband was not calibrated in free air: all its readings may be off by a share.',
} as const

/** Sensors that a run says were not calibrated. */
export function uncalibratedIn({ warnings }: { warnings: readonly string[] }): (keyof typeof UNCALIBRATED_WARNINGS)[] {
  return (['throttle', 'wideband'] as const).filter((sensor) => warnings.includes(UNCALIBRATED_WARNINGS[sensor]))
}
