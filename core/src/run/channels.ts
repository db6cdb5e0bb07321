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
  celsius: [1, 0],
  fahrenheit: [5 / 9, -160 / 9],
  kelvin: [1, -273.15],
  degk: [1, -273.15],
  k: [1, -273.15],
} as const
const PRESSURE = {
  kpa: [1, 0],
  hpa: [0.1, 0],
  mbar: [0.1, 0],
  bar: [100, 0],
  psi: [6.894757, 0],
  psia: [6.894757, 0],
  kpaa: [1, 0],
  bara: [100, 0],
  pa: [0.001, 0],
  torr: [0.1333224, 0],
  mpa: [1000, 0],
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
const SPEED = {
  'km/h': [1, 0],
  kmh: [1, 0],
  kph: [1, 0],
  mph: [1.609344, 0],
  'mi/h': [1.609344, 0],
  'm/s': [3.6, 0],
  kn: [1.852, 0],
  kt: [1.852, 0],
  kts: [1.852, 0],
  knots: [1.852, 0],
  'ft/s': [1.09728, 0],
} as const

/** Every channel, in the order in which headers are tried. */
export const CHANNEL_KINDS: readonly ChannelKind[] = [
  {
    name: 'time',
    title: 'Time',
    unit: 's',
    units: {
      s: [1, 0],
      sec: [1, 0],
      seconds: [1, 0],
      ms: [0.001, 0],
      min: [60, 0],
      h: [3600, 0],
      us: [1e-6, 0],
      µs: [1e-6, 0],
      msec: [0.001, 0],
    },
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
      '1/s': [60, 0],
      rps: [60, 0],
      'rad/s': [9.549297, 0],
      'r/min': [1, 0],
      'tr/min': [1, 0],
      'rev/min': [1, 0],
      'giri/min': [1, 0],
      'omw/min': [1, 0],
      'min⁻¹': [1, 0],
      upm: [1, 0],
    },
    least: 0,
    most: 30000,
  },
  {
    name: 'narrowband',
    title: 'Narrowband sensor',
    unit: 'V',
    units: { v: [1, 0], mv: [0.001, 0] },
    least: -0.5,
    most: 5.5,
    numbered: true,
  },
  {
    name: 'lambda',
    title: 'Lambda',
    unit: 'λ',
    units: MIXTURE,
    least: 0.4,
    most: 3,
    numbered: true,
  },
  {
    name: 'commanded',
    title: 'Commanded lambda',
    unit: 'λ',
    units: MIXTURE,
    least: 0.4,
    most: 3,
  },
  {
    name: 'throttle',
    title: 'Throttle',
    unit: '%',
    units: PERCENT,
    least: -5,
    most: 110,
  },
  {
    name: 'manifold',
    title: 'Manifold pressure',
    unit: 'kPa',
    units: PRESSURE,
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
      'ft-lbs': [1.355818, 0],
      ftlbs: [1.355818, 0],
      'ft·lb': [1.355818, 0],
      'lbf·ft': [1.355818, 0],
      'lbf-ft': [1.355818, 0],
      'lb.ft': [1.355818, 0],
      mkp: [9.80665, 0],
      ftlb: [1.355818, 0],
      'kg·m': [9.80665, 0],
      kgm: [9.80665, 0],
    },
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
      ch: [0.7354988, 0],
      pk: [0.7354988, 0],
      hk: [0.7354988, 0],
      whp: [0.7456999, 0],
      mw: [1000, 0],
    },
    least: -500,
    most: 3000,
  },
  {
    name: 'drum',
    title: 'Drum speed',
    unit: 'rpm',
    units: { rpm: [1, 0], '1/min': [1, 0], hz: [60, 0], 'rad/s': [9.549297, 0] },
    least: -100,
    most: 20000,
  },
  {
    name: 'spark',
    title: 'Spark advance',
    unit: '°',
    units: { '°': [1, 0], deg: [1, 0], '°btdc': [1, 0], degbtdc: [1, 0], '°ca': [1, 0] },
    least: -60,
    most: 80,
  },
  {
    name: 'trimShort',
    title: 'Short-term fuel trim',
    unit: '%',
    units: PERCENT,
    least: -100,
    most: 100,
  },
  {
    name: 'trimLong',
    title: 'Long-term fuel trim',
    unit: '%',
    units: PERCENT,
    least: -100,
    most: 100,
  },
  {
    name: 'coolant',
    title: 'Coolant',
    unit: '°C',
    units: TEMPERATURE,
    least: -40,
    most: 200,
  },
  {
    name: 'intake',
    title: 'Intake air',
    unit: '°C',
    units: TEMPERATURE,
    least: -40,
    most: 150,
  },
  {
    name: 'oil',
    title: 'Oil',
    unit: '°C',
    units: TEMPERATURE,
    least: -40,
    most: 220,
  },
  {
    name: 'head',
    title: 'Cylinder head',
    unit: '°C',
    units: TEMPERATURE,
    least: -40,
    most: 400,
  },
  {
    name: 'exhaust',
    title: 'Exhaust gas',
    unit: '°C',
    units: TEMPERATURE,
    least: -40,
    most: 1300,
    numbered: true,
  },
  {
    name: 'ambient',
    title: 'Air of the room',
    unit: '°C',
    units: TEMPERATURE,
    least: -60,
    most: 80,
  },
  {
    name: 'barometer',
    title: 'Barometer',
    unit: 'kPa',
    units: PRESSURE,
    least: 40,
    most: 120,
  },
  {
    name: 'fuelPressure',
    title: 'Fuel pressure',
    unit: 'kPa',
    units: PRESSURE,
    least: -50,
    most: 30_000,
  },
  {
    name: 'oilPressure',
    title: 'Oil pressure',
    unit: 'kPa',
    units: PRESSURE,
    least: -50,
    most: 2000,
  },
  {
    name: 'humidity',
    title: 'Relative humidity',
    unit: '%',
    units: PERCENT,
    least: 0,
    most: 100,
  },
  {
    name: 'battery',
    title: 'Battery',
    unit: 'V',
    units: { v: [1, 0], mv: [0.001, 0] },
    least: 0,
    most: 40,
  },
  {
    name: 'knock',
    title: 'Knock',
    unit: '',
    units: { '': [1, 0], v: [1, 0], '%': [1, 0], count: [1, 0] },
    least: -1e6,
    most: 1e6,
  },
  {
    name: 'grip',
    title: 'Grip',
    unit: '%',
    units: PERCENT,
    least: -5,
    most: 110,
  },
  {
    name: 'handRange',
    title: 'Range of a reading by hand',
    unit: 'λ',
    units: { λ: [1, 0] },
    // Written with hand readings and in archives; no logger has it.
    least: 0,
    most: 1,
  },
  {
    name: 'gear',
    title: 'Gear',
    unit: '',
    units: { '': [1, 0] },
    least: -1,
    most: 12,
  },
  {
    name: 'mode',
    title: 'Riding mode',
    unit: '',
    units: { '': [1, 0] },
    least: 0,
    most: 20,
  },
  {
    name: 'speed',
    title: 'Road speed',
    unit: 'km/h',
    units: SPEED,
    least: -5,
    most: 500,
  },
  {
    name: 'duty',
    title: 'Injector duty',
    unit: '%',
    units: PERCENT,
    least: 0,
    most: 200,
    numbered: true,
  },
  {
    name: 'pulse',
    title: 'Injector pulse',
    unit: 'ms',
    units: { ms: [1, 0], s: [1000, 0], us: [0.001, 0], µs: [0.001, 0], msec: [1, 0] },
    least: 0,
    most: 200,
    numbered: true,
  },
  {
    name: 'latitude',
    title: 'Latitude',
    unit: '°',
    units: { '°': [1, 0], deg: [1, 0], degrees: [1, 0] },
    least: -90,
    most: 90,
  },
  {
    name: 'longitude',
    title: 'Longitude',
    unit: '°',
    units: { '°': [1, 0], deg: [1, 0], degrees: [1, 0] },
    least: -180,
    most: 180,
  },
  {
    name: 'altitude',
    title: 'Altitude',
    unit: 'm',
    units: { m: [1, 0], ft: [0.3048, 0], km: [1000, 0] },
    least: -500,
    most: 9000,
  },
]

/** A column that nothing is computed from: kept under its own name and in its own unit. */
const OTHER: ChannelKind = { name: 'other', title: 'Other', unit: '', units: {}, least: -Infinity, most: Infinity }
const OTHERS = /^other([1-9]\d?)$/

/** Columns of one run that are kept without being understood; those beyond are left out and named. */
export const MOST_OTHERS = 60
/** Whether a channel is a column that is only kept. */
export const isOther = (channel: string): boolean => OTHERS.test(channel)

const BY_NAME = new Map(CHANNEL_KINDS.map((kind) => [kind.name, kind]))

/**
 * Kind of a channel: its title, unit and the units that a column may come in; undefined when there is no such channel.
 *
 * @example
 * channelKind('lambda2')?.unit // 'λ'
 */
export function channelKind(channel: string): ChannelKind | undefined {
  if (isOther(channel)) return OTHER
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
 * @param header of the column, which is the name of one that is only kept
 * @example
 * channelTitle('lambda2') // 'Lambda 2'
 */
export function channelTitle(channel: string, header = ''): string {
  if (isOther(channel)) return header || `Other ${OTHERS.exec(channel)![1]}`
  const kind = channelKind(channel)
  return kind ? (kind.numbered ? `${kind.title} ${channel.slice(-1)}` : kind.title) : channel
}

/** Whether a unit text says that a lambda column holds AFR, or nothing about it. */
export function isAfrUnit(unit: string): boolean {
  return ['afr', 'a/f', ':1'].includes(plainUnit(unit))
}

/** Unit text as used for look-up: lower case, no blanks, one spelling of micro, degree and dot. */
export function plainUnit(unit: string): string {
  return unit.trim().toLowerCase().replace(/\s+/g, '').replace(/º/g, '°').replace(/[⋅•]/g, '·').replace(/μ/g, 'µ')
}

/** Conversion of a unit to the core's, or undefined when the channel does not know the unit. An empty unit is the core's own. */
export function conversion(kind: ChannelKind, unit: string): Conversion | undefined {
  const plain = plainUnit(unit)
  if (kind === OTHER) return [1, 0]
  return plain === '' || plain === plainUnit(kind.unit) ? [1, 0] : kind.units[plain]
}

/** Channels that a run can have, with the units that a column may come in. */
export function knownChannels(): { channel: string; title: string; unit: string; units: string[] }[] {
  return CHANNELS.map((channel) => {
    const { unit, units } = channelKind(channel)!
    return { channel, title: channelTitle(channel), unit, units: Object.keys(units) }
  })
}
