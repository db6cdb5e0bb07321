/** Conversion to the core's unit: `value * factor + offset`. */
type Conversion = readonly [factor: number, offset: number]

/** What a column of a run can be. */
export interface ChannelKind {
  /** Channel name without its cylinder number. */
  name: string
  title: string
  /** Unit inside the core. */
  unit: string
  /** Units taken at the door, lower case without blanks. */
  units: Readonly<Record<string, Conversion>>
  /** Header texts that mean this channel, after `plainHeader`. */
  headers: RegExp
  /** Values outside are no reading (core's unit). */
  least: number
  most: number
  /** Numbered by cylinder or bank: lambda1, lambda2 ... */
  numbered?: boolean
}

const TEMPERATURE = {
  '°c': [1, 0],
  c: [1, 0],
  degc: [1, 0],
  '°f': [5 / 9, -160 / 9],
  f: [5 / 9, -160 / 9],
  degf: [5 / 9, -160 / 9],
  k: [1, -273.15],
} as const
const PRESSURE = {
  kpa: [1, 0],
  hpa: [0.1, 0],
  mbar: [0.1, 0],
  bar: [100, 0],
  psi: [6.894757, 0],
  inhg: [3.386389, 0],
  mmhg: [0.1333224, 0],
} as const
const PERCENT = {
  '%': [1, 0],
  percent: [1, 0],
  pct: [1, 0],
  fraction: [100, 0],
  ratio: [100, 0],
  '0..1': [100, 0],
} as const
const MIXTURE = {
  λ: [1, 0],
  lambda: [1, 0],
  la: [1, 0],
  afr: [1, 0],
  'a/f': [1, 0],
  ':1': [1, 0],
  ratio: [1, 0],
} as const
const SPEED = { 'km/h': [1, 0], kmh: [1, 0], kph: [1, 0], mph: [1.609344, 0], 'm/s': [3.6, 0] } as const

/** Every channel, in the order in which headers are tried. */
export const CHANNEL_KINDS: readonly ChannelKind[] = [
  {
    name: 'time',
    title: 'Time',
    unit: 's',
    units: { s: [1, 0], sec: [1, 0], seconds: [1, 0], ms: [0.001, 0], min: [60, 0], h: [3600, 0], us: [1e-6, 0] },
    headers: /^(elapsed |log |run )?(time|timestamp|zeit|temps|tiempo|tempo|seconds|secs?|t)( stamp| elapsed)?$/,
    least: 0,
    most: 1e6,
  },
  {
    name: 'rpm',
    title: 'Engine speed',
    unit: 'rpm',
    units: {
      rpm: [1, 0],
      '1/min': [1, 0],
      'u/min': [1, 0],
      'min-1': [1, 0],
      krpm: [1000, 0],
      rpmx1000: [1000, 0],
      hz: [60, 0],
    },
    headers:
      /^((engine|motor|crank|crankshaft)? ?(rpm|revs|speed rpm|rev|drehzahl)|(engine|motor|crank) ?speed|n ?(mot|eng)|rpm (engine|motor))$/,
    least: 0,
    most: 30000,
  },
  {
    name: 'narrowband',
    title: 'Narrowband sensor',
    unit: 'V',
    units: { v: [1, 0], mv: [0.001, 0] },
    headers:
      /^(narrow ?band|(o2|oxygen)( sensor)? ?(volts?|voltage)|(o2|oxygen) sensor|(o2|oxygen))( (cyl|bank|b)?)? ?([1-4])?$/,
    least: -0.5,
    most: 5.5,
    numbered: true,
  },
  {
    name: 'lambda',
    title: 'Lambda',
    unit: 'λ',
    units: MIXTURE,
    headers:
      /^(measured |wide ?band |wb )*(lambda|lam|λ|afr|a\/f|air[ /-]?fuel( ratio)?|mixture|wide ?band|wbo2|wb)( sensor| ratio| measured| act(ual)?| value| lambda| afr)?( (cyl(inder)?|cylinder|bank|b|front|rear|left|right))? ?([1-4])?$/,
    least: 0.4,
    most: 3,
    numbered: true,
  },
  {
    name: 'commanded',
    title: 'Commanded lambda',
    unit: 'λ',
    units: MIXTURE,
    headers:
      /^((commanded|command|cmd|target|tgt|desired|requested|wanted|soll|set ?point) (lambda|lam|λ|afr|a\/f|air[ /-]?fuel( ratio)?|mixture)|(lambda|lam|λ|afr|a\/f|air[ /-]?fuel( ratio)?|mixture) (commanded|command|cmd|target|tgt|desired|requested|wanted|soll|set ?point))$/,
    least: 0.4,
    most: 3,
  },
  {
    name: 'throttle',
    title: 'Throttle',
    unit: '%',
    units: PERCENT,
    headers:
      /^(throttle|tps|tp|throttle (pos|position|angle|opening|plate|valve)|plate( opening)?|drosselklappe|gas|thr)( sensor)? ?1?$/,
    least: -5,
    most: 110,
  },
  {
    name: 'manifold',
    title: 'Manifold pressure',
    unit: 'kPa',
    units: PRESSURE,
    headers: /^(map|manifold|manifold (abs(olute)? )?pressure|intake (manifold )?pressure|saugrohrdruck)( sensor)?$/,
    least: 5,
    most: 400,
  },
  {
    name: 'torque',
    title: 'Torque',
    unit: 'N·m',
    units: {
      'n·m': [1, 0],
      nm: [1, 0],
      'n.m': [1, 0],
      'n*m': [1, 0],
      'lb·ft': [1.355818, 0],
      'lb-ft': [1.355818, 0],
      lbft: [1.355818, 0],
      'ft-lb': [1.355818, 0],
      ftlb: [1.355818, 0],
      'kg·m': [9.80665, 0],
      kgm: [9.80665, 0],
    },
    headers: /^(engine |wheel |measured )?(torque|drehmoment|couple)$/,
    least: -2000,
    most: 5000,
  },
  {
    name: 'power',
    title: 'Power',
    unit: 'kW',
    units: {
      kw: [1, 0],
      w: [0.001, 0],
      hp: [0.7456999, 0],
      bhp: [0.7456999, 0],
      ps: [0.7354988, 0],
      cv: [0.7354988, 0],
    },
    headers: /^(engine |wheel |measured )?(power|leistung|puissance|hp|kw|ps)$/,
    least: -500,
    most: 3000,
  },
  {
    name: 'drum',
    title: 'Drum speed',
    unit: 'rpm',
    units: { rpm: [1, 0], '1/min': [1, 0], hz: [60, 0], 'rad/s': [9.549297, 0] },
    headers: /^(drum|roller|roll)( speed| rpm)?$/,
    least: -100,
    most: 20000,
  },
  {
    name: 'spark',
    title: 'Spark advance',
    unit: '°',
    units: { '°': [1, 0], deg: [1, 0], '°btdc': [1, 0], degbtdc: [1, 0], '°ca': [1, 0] },
    headers:
      /^(spark|ignition|ign|timing|advance|spark (advance|angle|timing)|ign(ition)? (advance|angle|timing)|zündwinkel)$/,
    least: -60,
    most: 80,
  },
  {
    name: 'trimShort',
    title: 'Short-term fuel trim',
    unit: '%',
    units: PERCENT,
    headers: /^(stft|short[ -]?term( fuel)? trim|trim short|fuel trim short|short trim)( b(ank)?)? ?1?$/,
    least: -100,
    most: 100,
  },
  {
    name: 'trimLong',
    title: 'Long-term fuel trim',
    unit: '%',
    units: PERCENT,
    headers: /^(ltft|long[ -]?term( fuel)? trim|trim long|fuel trim long|long trim)( b(ank)?)? ?1?$/,
    least: -100,
    most: 100,
  },
  {
    name: 'coolant',
    title: 'Coolant',
    unit: '°C',
    units: TEMPERATURE,
    headers: /^(coolant|ect|clt|water|engine temp(erature)?|coolant temp(erature)?|water temp(erature)?|kühlmittel)$/,
    least: -40,
    most: 200,
  },
  {
    name: 'intake',
    title: 'Intake air',
    unit: '°C',
    units: TEMPERATURE,
    headers: /^(iat|intake|act|mat|(intake|inlet|charge)( air)?( temp(erature)?)?|air temp(erature)?)$/,
    least: -40,
    most: 150,
  },
  {
    name: 'ambient',
    title: 'Air of the room',
    unit: '°C',
    units: TEMPERATURE,
    headers: /^(ambient|ambient( air)? temp(erature)?|(room|outside|outdoor|weather) temp(erature)?)$/,
    least: -60,
    most: 80,
  },
  {
    name: 'barometer',
    title: 'Barometer',
    unit: 'kPa',
    units: PRESSURE,
    headers: /^(baro|barometer|(baro(metric)?|ambient|atmospheric|atm|air) ?pressure|luftdruck)$/,
    least: 40,
    most: 120,
  },
  {
    name: 'humidity',
    title: 'Relative humidity',
    unit: '%',
    units: PERCENT,
    headers: /^((rel(ative)?|air) )?(humidity|rh)$/,
    least: 0,
    most: 100,
  },
  {
    name: 'battery',
    title: 'Battery',
    unit: 'V',
    units: { v: [1, 0], mv: [0.001, 0] },
    headers: /^(battery|batt|vbat|battery (volts?|voltage)|ubat|supply( voltage)?)$/,
    least: 0,
    most: 40,
  },
  {
    name: 'knock',
    title: 'Knock',
    unit: '',
    units: { '': [1, 0], v: [1, 0], '%': [1, 0], count: [1, 0] },
    headers: /^(knock|knock (level|count|signal|retard))$/,
    least: -1e6,
    most: 1e6,
  },
  {
    name: 'grip',
    title: 'Grip',
    unit: '%',
    units: PERCENT,
    headers: /^(grip|app|twist ?grip|grip (pos|position)|pedal|accelerator)$/,
    least: -5,
    most: 110,
  },
  {
    name: 'handRange',
    title: 'Range of a reading by hand',
    unit: 'λ',
    units: { λ: [1, 0] },
    // Written with hand readings and in archives; no logger has it.
    headers: /^hand ?range$/,
    least: 0,
    most: 1,
  },
  {
    name: 'gear',
    title: 'Gear',
    unit: '',
    units: { '': [1, 0] },
    headers: /^(gear|gear (pos|position))$/,
    least: -1,
    most: 12,
  },
  {
    name: 'mode',
    title: 'Riding mode',
    unit: '',
    units: { '': [1, 0] },
    headers: /^((riding|drive|power|throttle|engine) ?(mode|map)|mode)$/,
    least: 0,
    most: 20,
  },
  {
    name: 'speed',
    title: 'Road speed',
    unit: 'km/h',
    units: SPEED,
    headers: /^(speed|vss|road speed|vehicle speed|wheel speed|ground speed|gps speed)$/,
    least: -5,
    most: 500,
  },
]

const BY_NAME = new Map(CHANNEL_KINDS.map((kind) => [kind.name, kind]))

/**
 * Kind of a channel: its title, unit and the units that a column may come in; undefined when there is no such channel.
 *
 * @example
 * channelKind('lambda2')?.unit // 'λ'
 */
export function channelKind(channel: string): ChannelKind | undefined {
  const numbered = /^([a-z]+)([1-4])$/i.exec(channel)
  if (numbered) {
    const kind = BY_NAME.get(numbered[1]!)
    return kind?.numbered ? kind : undefined
  }
  const kind = BY_NAME.get(channel)
  return kind?.numbered ? undefined : kind
}

/** Names of all channels, numbered ones for four cylinders or banks. */
export const CHANNELS: readonly string[] = CHANNEL_KINDS.flatMap((kind) =>
  kind.numbered ? [1, 2, 3, 4].map((n) => `${kind.name}${n}`) : [kind.name],
)

/**
 * Title of a channel for people, with its cylinder.
 *
 * @example
 * channelTitle('lambda2') // 'Lambda 2'
 */
export function channelTitle(channel: string): string {
  const kind = channelKind(channel)
  return kind ? (kind.numbered ? `${kind.title} ${channel.slice(-1)}` : kind.title) : channel
}

/** Whether a unit text says that a lambda column holds AFR, or nothing about it. */
export function isAfrUnit(unit: string): boolean {
  return ['afr', 'a/f', ':1'].includes(plainUnit(unit))
}

/** Unit text as used for look-up: lower case, no blanks, one spelling of micro, degree and dot. */
export function plainUnit(unit: string): string {
  return unit.trim().toLowerCase().replace(/\s+/g, '').replace(/º/g, '°').replace(/[⋅•]/g, '·')
}

/** Conversion of a unit to the core's, or undefined when the channel does not know the unit. An empty unit is the core's own. */
export function conversion(kind: ChannelKind, unit: string): Conversion | undefined {
  const plain = plainUnit(unit)
  return plain === '' || plain === plainUnit(kind.unit) ? [1, 0] : kind.units[plain]
}

/** Channels that a run can have, with the units that a column may come in. */
export function knownChannels(): { channel: string; title: string; unit: string; units: string[] }[] {
  return CHANNELS.map((channel) => {
    const { unit, units } = channelKind(channel)!
    return { channel, title: channelTitle(channel), unit, units: Object.keys(units) }
  })
}
