/**
 * What words of a header mean. Words of several languages and their usual abbreviations, without accents, in lower case; all of
 * them common practice. A word that stands nowhere here keeps a header from being recognised: nothing is guessed from the rest.
 */
const WORDS = {
  engine: 'engine eng motor mot moteur motore crank crankshaft kurbelwelle motors silnik motoru',
  rpm: 'n rpm rpms revs rev drehzahl regime regimen giri revoluciones revolutions toerental varvtal rotacao obroty tours upm tach tacho tachometer nmot neng umdrehungen otacky vueltas',
  speed: 'speed spd geschwindigkeit vitesse velocita velocidad velocidade snelheid hastighet velocity predkosc',
  vehicle:
    'vehicle veh road ground wheel whl car bike fahrzeug fahr rad vehicule vehiculo veicolo roue ruota rueda voertuig wiel hjul',
  'vehicle speed': 'vss kmh kph mph',
  gps: 'gps gnss',
  throttle:
    'throttle throt thr thrtl thrott tps tp drosselklappe drosselklappen drossel dk wdk papillon farfalla mariposa gasklep borboleta gasspjall plate butterfly przepustnica',
  gas: 'gas gaz',
  position:
    'position pos opening angle ang winkel stellung offnung oeffnung ouverture apertura abertura posizione posicion posicao stand oppning valve degree pozycja',
  lambda: 'lambda lam λ afr mixture gemisch richesse titolo dosado mezcla miscela mengsel',
  wideband: 'wideband wb wbo2 wbo uego breitband wideo2 linear',
  oxygen: 'o2 oxygen sauerstoff oxygene ossigeno oxigeno ego sonde sonda zuurstof',
  narrowband: 'narrowband nb sprungsonde',
  pressure: 'p pressure press pres prs druck pression pressione presion pressao tryck druk cisnienie',
  temperature: 't temperature temp tmp temperatur temperatura temperatuur temper',
  coolant:
    'coolant clt ect water wtr wasser kuhlmittel kuehlmittel kuhlwasser kuehlwasser eau acqua agua refroidissement refrigerante koelwater kylvatten cool cooling koelvloeistof',
  'intake air': 'iat mat',
  intake: 'intake inlet charge ansaug admission aspirazione admision inlaat insug aspiration',
  air: 'air luft aria aire lucht ansaugluft',
  ambient:
    'ambient amb outside outdoor outer room umgebung umgebungs aussen exterieur exterieure esterna esterno ambiente ambiant ambiante weather aat buiten',
  oil: 'oil oel ol huile olio aceite olie olja',
  'exhaust temperature': 'egt egts agt abgastemperatur',
  exhaust: 'exhaust exh abgas echappement scarico escape uitlaat avgas',
  fuel: 'fuel kraftstoff carburant carburante combustible benzin essence benzina brandstof bransle gasoline petrol',
  rail: 'rail',
  manifold: 'manifold saugrohr collecteur collettore colector mani plenum',
  map: 'map',
  barometer:
    'baro barometer barometric barometrique barometrica atmospheric atmospheres atmospherique atmosferica atm bap luftdruck atmo barometrisch',
  duty: 'duty dutycycle tastverhaltnis dc cycle',
  'injector duty': 'idc injdc',
  injector:
    'injector injection injectors inj einspritz einspritzung injecteur injecteurs iniettore iniettori inyector iniezione inyeccion injektor einspritzventil',
  pulse: 'pulse width duration dauer ontime',
  'pulse width': 'pw pulsewidth ipw injpw ti einspritzzeit einspritzdauer',
  time: 'time datetime temps zeit tiempo tempo timestamp elapsed seconds secs sec clock uhrzeit hora heure ora tijd tid czas zeitstempel horodatage stamp',
  date: 'date datum fecha data',
  session: 'session since start device beginn debut inizio',
  gear: 'gear gears gang rapport marcia marcha versnelling vaxel gearpos schaltstufe bieg engaged engagee',
  mode: 'mode modus modo',
  ride: 'riding ride drive driving fahrmodus',
  grip: 'grip twistgrip pedal accelerator app aps gasgriff griff poignee manopola acelerador puno fahrpedal twist acceleratore accelerateur',
  latitude: 'latitude lat breitengrad latitud latitudine breedtegraad',
  longitude: 'longitude lon lng langengrad laengengrad longitud longitudine lengtegraad',
  altitude: 'altitude alt elevation elev hohe hoehe quota altitud altitudine hoogte',
  torque: 'torque tq trq drehmoment couple coppia par koppel vridmoment moment',
  power: 'power pwr leistung puissance potenza potencia vermogen effekt hp kw ps bhp whp',
  drum: 'drum roller roll rolle rouleau rullo rodillo',
  ignition:
    'spark ignition ign timing zundung zund zuendung zuend zundwinkel zuendwinkel allumage accensione encendido ontsteking tandning sparkadvance zzp',
  advance: 'advance adv avance anticipo voreilung vorzundung zeitpunkt fruhzundung',
  'short trim': 'stft',
  'long trim': 'ltft',
  short: 'short kurzzeit',
  long: 'long langzeit',
  trim: 'trim trims',
  term: 'term',
  battery: 'battery batt bat vbat vbatt ubat ubatt batterie batteria bateria accu supply bordnetz akku batv battv',
  voltage: 'v u voltage volt volts spannung tension tensione spanning voltaje',
  knock: 'knock klopf klopfen klopfsensor cliquetis detonation',
  level: 'level count signal pegel',
  humidity:
    'humidity humid rh feuchte feuchtigkeit luftfeuchte luftfeuchtigkeit humidite umidita humedad vochtigheid hygrometry',
  relative: 'relative rel',
  target:
    'target tgt soll sollwert desired commanded command cmd requested request wanted setpoint consigne obiettivo objetivo demand cible doel',
  head: 'head zylinderkopf culasse testa culata kopf cylhead',
  'head temperature': 'cht',
  cylinder: 'cylinder cyl bank zylinder zyl cylindre cilindro bnk b',
  front: 'front vorn vorne avant anteriore delantero delantera voor fr',
  rear: 'rear hinten arriere posteriore trasero trasera achter rr back',
  left: 'left links gauche sinistra izquierda lh lt',
  right: 'right rechts droite destra derecha rh2 rt',
  current: 'current aktuell actuel attuale',
  hand: 'hand',
  range: 'range',
  // Words that say nothing of what a column is.
  '': 'sensor sens value val actual act measured meas ist istwert sig ecu ecm can obd obd2 log logged filtered filt avg average mean smoothed smooth reading main primary no nr of the de du des del della di la le il el der die das von am au percent pct prozent percentage wert on abs absolute run gemessen mesure mesuree',
} as const

export type Word = Exclude<keyof typeof WORDS, ''>

const MEANS = new Map<string, Word | null>(
  Object.entries(WORDS).flatMap(([word, list]) =>
    list.split(' ').map((one) => [one, word === '' ? null : (word as Word)] as const),
  ),
)

/** Headers that mean something only where they stand alone. */
const ALONE: Readonly<Record<string, Word>> = { t: 'time', n: 'rpm', act: 'intake air' }

/** Letters that join the parts of a compound. */
const JOINTS = ['', 'n', 's', 'en', 'es']
/** Shortest part of a compound: shorter ones would be found anywhere. */
const LEAST_PART = 3

/** The known words that a text without blanks is put together of, as "motordrehzahl" or "enginespeed"; null where it is not. */
function compound(text: string): string[] | null {
  const found: (string[] | null)[] = [[], ...Array.from(text, () => null)]
  for (let to = 2; to <= text.length; to++)
    for (let from = 0; from < to - 1; from++) {
      const before = found[from]
      const part = text.slice(from, to)
      if (!before || (found[to] && found[to]!.length <= before.length + 1)) continue
      const known = JOINTS.find((joint) => part.endsWith(joint) && isPart(part.slice(0, part.length - joint.length)))
      if (known !== undefined) found[to] = [...before, part.slice(0, part.length - known.length)]
    }
  return found[text.length] ?? null
}
const isPart = (text: string): boolean => (text.length >= LEAST_PART || text === 'ol') && MEANS.has(text)

/** A header taken apart: what its words mean, the number in it, and whether all of it is understood. */
export interface Understood {
  words: Word[]
  numbers: number[]
  isWhole: boolean
}

/**
 * What the words of a header mean, each as often as it stands there; words that say nothing are left out.
 *
 * @param plain as `plainHeader` gives it
 * @example
 * wordsOf('wb o2 1').words // ['wideband', 'oxygen']
 */
export function wordsOf(plain: string): Understood {
  const alone = ALONE[plain]
  if (alone) return { words: [alone], numbers: [], isWhole: true }
  const words: Word[] = []
  const numbers: number[] = []
  let isWhole = true
  const texts = bare(plain)
    .replace(/\b(wide|narrow) band\b/g, '$1band')
    .replace(/\bpulse width\b/g, 'pw')
    .replace(/\brevs? per min(ute)?\b/g, 'rpm')
    .replace(/\bair ?[/ ]? ?fuel( ratio)?\b/g, 'afr')
    .replace(/\ba ?\/ ?f( ratio)?\b/g, 'afr')
    .split(' ')
  for (const text of texts.filter(Boolean)) {
    if (/^\d+$/.test(text)) numbers.push(Number(text))
    else {
      const parts = MEANS.has(text) ? [text] : compound(text)
      if (!parts) isWhole = false
      for (const part of parts ?? []) {
        const word = MEANS.get(part)
        if (word) words.push(word)
      }
    }
  }
  return { words, numbers, isWhole }
}

/** Without accents; what stands between words is a blank. */
const bare = (text: string): string =>
  text
    .normalize('NFD')
    .replace(/\p{M}/gu, '')
    .replace(/ß/g, 'ss')
    .replace(/\b[dl]['’]/g, '')
    .replace(/[^\p{L}\d/λ]+/gu, ' ')
    .trim()
