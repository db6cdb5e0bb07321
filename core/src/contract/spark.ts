import { array, number, object } from 'yup'
import { SPARK_WAYS } from '../spark/choice'
import { SPARK_VERDICTS } from '../spark/fitAdvance'
import { MIXTURE_VERDICTS } from '../spark/mixtureSweep'
import { PROOF_VERDICTS } from '../spark/proof'
import { amount, choice, closed, count, figure, id, knownFigure, matrix, time, words, yesNo } from './fields'

const degrees = (most: number) => amount(0, most).required()
const use = () => amount(0, 10).required()

/** Degrees before top dead centre that anybody would set; a larger or negative number is a slip. */
const ADVANCE = { least: -10, most: 70 }
const advance = () =>
  number()
    .strict()
    .min(
      ADVANCE.least,
      `is far after top dead centre: advance is counted before it, from ${ADVANCE.least} to ${ADVANCE.most}°. Check the sign`,
    )
    .max(ADVANCE.most, `is more advance than any engine runs with: ${ADVANCE.least} to ${ADVANCE.most}°`)

/** One setting of a whole run, as somebody said it. */
export const settingSchema = object({
  advance: advance().required(),
  knock: yesNo().required().meta({ description: 'knock was heard' }),
})
  .noUnknown()
  .nullable()
  .optional()
  .default(undefined)
  .meta({
    ref: 'SparkSetting',
    about: 'one setting of the spark that the whole run was made at, as somebody said it',
  })

/** What was chosen at the spark stage. */
export const sparkSchema = object({
  plan: object({
    way: choice(SPARK_WAYS).required(),
    stops: array().of(amount(1, 100).required()).min(1).max(12).required(),
    rpm: array().of(amount(500, 30000).required()).min(1).max(24).required(),
    step: amount(0.5, 6).required(),
    below: amount(0, 5).integer().required(),
    above: amount(0, 5).integer().required(),
    repeats: amount(1, 6).integer().required(),
    seconds: amount(2, 20).required(),
  })
    .noUnknown()
    .required()
    .test('settings', 'needs three settings at least: raise below or above', (value) => {
      const plan = value as { below?: number; above?: number } | undefined
      return !plan || (plan.below ?? 0) + (plan.above ?? 0) >= 2
    })
    .test('span', 'needs two speeds, so that a sweep has a span', (value) => {
      const plan = value as { way?: string; rpm?: number[] } | undefined
      return plan?.way !== 'sweeps' || new Set(plan.rpm).size > 1
    }),
  limits: object({
    more: degrees(10),
    less: degrees(20),
    moreAfterKnock: degrees(10),
    moreUnseen: degrees(10),
    least: degrees(5),
  })
    .noUnknown()
    .required(),
  giveAwayPct: amount(0, 5).required(),
  knockMargin: degrees(10),
  knockLevel: number().strict().moreThan(0, 'must be above zero').max(1e6).required(),
  use: object({ low: use(), middle: use(), high: use() })
    .noUnknown()
    .required()
    .test('use', 'says that nothing is used', (value) => {
      const shares = value as { low?: number; middle?: number; high?: number } | undefined
      return !shares || (shares.low ?? 0) + (shares.middle ?? 0) + (shares.high ?? 0) > 0
    }),
  present: advance().nullable().defined(),
})
  .noUnknown()
  .nullable()
  .optional()
  .default(undefined)
  .meta({
    ref: 'SparkChoice',
    about: 'plan of spark steps, limits of a pass, how the range is used, the setting in use',
  })

const asked = {
  set: id().optional().meta({ description: 'the set of the field, or the newest, when left out' }),
  runs: array().of(id().required()).max(500).optional().default(undefined).meta({ description: 'instead of a set' }),
}
const options = closed({
  giveAwayPct: amount(0, 5).meta({ description: 'torque that may be given up for less advance, %' }),
  knockMargin: amount(0, 10).meta({ description: 'degrees kept from knock' }),
  present: advance().optional().meta({ description: 'static setting in use now' }),
})
  .optional()
  .default(undefined)
  .meta({ description: 'instead of what the job has chosen' })

/** Body of POST /jobs/:job/spark-fit. */
export const sparkRequestSchema = closed({ ...asked, options }).meta({ ref: 'SparkFitRequest' })

/** Body of POST /jobs/:job/mixture-sweep. */
export const mixtureSweepRequestSchema = closed(asked).meta({ ref: 'MixtureSweepRequest' })

/** Body of POST /jobs/:job/spark-change. */
export const sparkChangeRequestSchema = closed({
  ...asked,
  options,
  table: id(),
  limits: closed({
    more: amount(0, 10),
    less: amount(0, 20),
    moreAfterKnock: amount(0, 10),
    moreUnseen: amount(0, 10),
    least: amount(0, 5),
  })
    .optional()
    .default(undefined)
    .meta({ description: 'degrees that one pass may go; those of the job when left out' }),
}).meta({ ref: 'SparkChangeRequest' })

const interval = { low: figure(), high: figure() }
const parabola = closed({
  centre: figure(),
  a: figure(),
  b: figure(),
  c: figure(),
  covariance: matrix(),
  spread: figure(),
  df: figure(),
})
  .nullable()
  .defined()
  .meta({ description: 'a + b u + c u², u = x - centre' })

/** Answer of POST /jobs/:job/spark-fit: degrees before top dead centre and N·m, intervals of 90 %. */
export const sparkAnswerSchema = closed({
  bins: array()
    .of(
      closed({
        key: words(80),
        bin: closed({
          stop: knownFigure(),
          rpm: figure(),
          source: choice(SPARK_WAYS).required(),
          isStatic: yesNo().required().meta({ description: 'the advance is a setting of the whole engine' }),
          points: array()
            .of(
              closed({
                advance: figure(),
                torque: figure(),
                knock: yesNo().required(),
                run: id(),
                at: time().required(),
              }).required(),
            )
            .required(),
          present: figure(),
          presentAt: time().required(),
          hasKnockChannel: yesNo().required(),
          knockFrom: knownFigure(),
        }).required(),
        fit: closed({
          verdict: choice(SPARK_VERDICTS).required(),
          note: words(),
          best: closed({ advance: figure(), ...interval, torque: figure() })
            .nullable()
            .defined(),
          recommended: knownFigure(),
          gain: closed({ value: figure(), ...interval })
            .nullable()
            .defined(),
          knock: closed({ clean: knownFigure(), from: figure() })
            .nullable()
            .defined()
            .meta({ description: 'knock begins between the last setting without it and the first with it' }),
          curve: closed({
            level: figure(),
            draws: array()
              .of(closed({ best: figure(), later: figure(), earlier: figure() }).required())
              .required(),
          })
            .nullable()
            .defined()
            .meta({
              description:
                'curves that the readings leave possible, equally likely: level x (1 - k (advance - best)²), k later below the best, earlier above it',
            }),
          spread: figure(),
          heat: closed({ share: figure(), sd: figure() }).nullable().defined(),
        }).required(),
        drift: closed({ pct: figure(), isReal: yesNo().required() }).nullable().defined(),
        stale: closed({ before: time().required(), moved: figure() }).nullable().defined(),
        moved: figure().meta({ description: 'degrees that the spark tables were moved here since' }),
        replaced: count().meta({ description: 'readings from before a move, that newer ones replace' }),
        settings: count(),
      }).required(),
    )
    .required()
    .meta({ description: 'settings tried at one stop and speed, and what they come to' }),
  proof: array()
    .of(
      closed({
        stop: figure(),
        rpm: figure(),
        from: figure(),
        to: figure(),
        predicted: closed({ value: figure(), ...interval }).required(),
        measured: closed({ value: figure(), low: knownFigure(), high: knownFigure() }).required(),
        verdict: choice(PROOF_VERDICTS).required(),
      }).required(),
    )
    .required()
    .meta({ description: 'what the last change of the spark promised, and what came of it' }),
  next: closed({
    stop: figure(),
    rpm: figure(),
    doubt: figure().meta({ description: 'half of the 90 % interval of best advance there now, degrees' }),
    typical: figure().meta({ description: 'the same at a typical place of the planned range' }),
    after: figure().meta({ description: 'the same once this point is measured' }),
    isEnough: yesNo().required(),
  })
    .nullable()
    .defined()
    .meta({ description: 'where to step the advance next' }),
}).meta({ ref: 'SparkFitAnswer' })

/** Answer of POST /jobs/:job/mixture-sweep: lambda and N·m. */
export const mixtureSweepAnswerSchema = closed({
  mixtures: array()
    .of(
      closed({
        bin: closed({
          stop: figure(),
          rpm: figure(),
          points: array()
            .of(closed({ lambda: figure(), torque: figure(), knock: yesNo().required() }).required())
            .required(),
        }).required(),
        fit: closed({
          verdict: choice(MIXTURE_VERDICTS).required(),
          note: words(),
          best: closed({ lambda: figure(), ...interval, torque: figure() })
            .nullable()
            .defined(),
          curve: parabola,
          knockFrom: knownFigure(),
          range: closed({ from: figure(), to: figure() }).required(),
        }).required(),
      }).required(),
    )
    .required(),
}).meta({ ref: 'MixtureSweepAnswer' })

const between = () =>
  closed({ value: figure(), ...interval })
    .nullable()
    .defined()

/** Answer of POST /jobs/:job/spark-change, `[load][rpm]`: degrees. */
export const sparkChangeAnswerSchema = closed({
  rpm: array().of(figure()).required(),
  load: array().of(figure()).required(),
  values: matrix().meta({ description: 'the table with what is suggested' }),
  nodes: array()
    .of(
      array()
        .of(
          closed({
            changeDeg: figure(),
            reason: words(80),
            before: figure(),
            after: figure(),
            points: array().of(words(80)).required(),
            best: between().meta({ description: 'advance of best torque; null beyond the points' }),
            gainPct: between().meta({ description: 'torque gained by the change, %' }),
            knockFrom: knownFigure().meta({ description: 'advance at which knock may begin, by 95 of 100' }),
          }).required(),
        )
        .required(),
    )
    .required(),
}).meta({ ref: 'SparkChangeAnswer' })
