import {
  calibrationFault,
  lambdaFromShown,
  OXYGEN_PCT,
  plateFromVolts,
  refused,
  type CalibrationStep,
  type RigSample,
  type SensorCalibration,
} from '@yuzumix/core'

/** What the rig's own sensors give in truth, whatever their data sheets say: volts of the plate, gain of the wideband. */
const TRUE_SENSORS = { closedVolts: 0.5, openVolts: 4.38, gain: 1.05 }
/** s that the engine must have stood, for fresh air to have come to the sensor. */
const AIRED = 4
/** rpm of an engine that still turns, however slowly: gas is on its way. */
const TURNS = 50
/** % of plate within which an end of the range is taken. */
const NEAR_END = 4

/** Sensors of a simulated rig: they show something else than is true, until they are calibrated. */
export function simulatedSensors(known: SensorCalibration) {
  let calibration = known
  let plateVolts = TRUE_SENSORS.closedVolts
  let latest = { time: -Infinity, rpm: 0 }
  let turnedAt = -Infinity
  const volts = (plate: number): number =>
    TRUE_SENSORS.closedVolts + ((TRUE_SENSORS.openVolts - TRUE_SENSORS.closedVolts) * plate) / 100
  const freeAir = (): number | null => (latest.time - turnedAt >= AIRED ? OXYGEN_PCT * TRUE_SENSORS.gain : null)
  return {
    calibration: (): SensorCalibration => calibration,
    state: () => ({ calibration, throttleVolts: plateVolts, freeAirPct: freeAir() }),
    /** What is true, as it is shown by what is known of the sensors. */
    read(truth: RigSample): RigSample {
      latest = truth
      if (truth.rpm > TURNS) turnedAt = truth.time
      plateVolts = volts(truth.throttle)
      return {
        ...truth,
        throttle: plateFromVolts(plateVolts, calibration),
        lambda: truth.lambda.map((one) => lambdaFromShown(1 + (one - 1) * TRUE_SENSORS.gain, calibration)),
      }
    },
    /**
     * The calibration with one step taken now. It counts once it is taken up.
     *
     * @param plate % in truth
     * @throws Refusal 'bench' where the sensor cannot be at that end
     */
    calibrated(step: CalibrationStep, plate: number): SensorCalibration {
      if (latest.rpm > TURNS)
        throw refused('bench', 'Stop the engine first: sensors are calibrated with it at rest.', 'engine')
      const air = freeAir()
      if (step === 'free-air' && air === null)
        throw refused(
          'bench',
          `There is still exhaust gas at the sensor. Wait ${AIRED} s after the engine stopped, or hang it in fresh air.`,
          'wideband',
        )
      if (step === 'closed' ? plate > NEAR_END : step === 'open' && plate < 100 - NEAR_END)
        throw refused(
          'bench',
          step === 'closed' ? 'Let the plate shut first.' : 'Open the plate all the way first, and hold it there.',
          'throttle',
        )
      const next = {
        ...calibration,
        ...(step === 'closed'
          ? { closedVolts: plateVolts }
          : step === 'open'
            ? { openVolts: plateVolts }
            : { freeAirPct: air }),
      }
      const fault = calibrationFault(next)
      if (fault) throw refused('bench', fault, step)
      return next
    },
    take: (next: SensorCalibration): void => void (calibration = next),
  }
}
