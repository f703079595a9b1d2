/**
 * Names of the controllers that the MIDI standard defines; numbers not listed are undefined there.
 * Source: MIDI 1.0 Detailed Specification, table III, and the later recommended practices.
 */
const NAMED: Readonly<Record<number, string>> = {
  0: 'Bank select',
  1: 'Modulation',
  2: 'Breath',
  4: 'Foot',
  5: 'Portamento time',
  6: 'Data entry',
  7: 'Volume',
  8: 'Balance',
  10: 'Pan',
  11: 'Expression',
  12: 'Effect control 1',
  13: 'Effect control 2',
  16: 'General purpose 1',
  17: 'General purpose 2',
  18: 'General purpose 3',
  19: 'General purpose 4',
  64: 'Damper',
  65: 'Portamento',
  66: 'Sostenuto',
  67: 'Soft',
  68: 'Legato',
  69: 'Hold 2',
  70: 'Sound variation',
  71: 'Timbre',
  72: 'Release time',
  73: 'Attack time',
  74: 'Brightness',
  75: 'Decay time',
  76: 'Vibrato rate',
  77: 'Vibrato depth',
  78: 'Vibrato delay',
  79: 'Sound controller 10',
  80: 'General purpose 5',
  81: 'General purpose 6',
  82: 'General purpose 7',
  83: 'General purpose 8',
  84: 'Portamento control',
  88: 'High resolution velocity',
  91: 'Effects 1 depth',
  92: 'Effects 2 depth',
  93: 'Effects 3 depth',
  94: 'Effects 4 depth',
  95: 'Effects 5 depth',
  96: 'Data increment',
  97: 'Data decrement',
  98: 'NRPN LSB',
  99: 'NRPN MSB',
  100: 'RPN LSB',
  101: 'RPN MSB',
  120: 'All sound off',
  121: 'Reset controllers',
  122: 'Local control',
  123: 'All notes off',
  124: 'Omni off',
  125: 'Omni on',
  126: 'Mono',
  127: 'Poly',
};

/** Standard name of controller 0–127, or `null` where the standard gives none. Example: 7 is `Volume`. */
export function controllerName(number: number): string | null {
  const own = NAMED[number];
  if (own) return own;
  const coarse = number >= 32 && number < 64 ? NAMED[number - 32] : undefined;
  return coarse ? `${coarse} LSB` : null;
}

/** Controllers that carry a parameter number, a bank or a channel mode and so are never free for other use. */
export const isReservedByStandard = (number: number): boolean =>
  number === 0 ||
  number === 32 ||
  number === 6 ||
  number === 38 ||
  (number >= 96 && number <= 101) ||
  number >= 120;

export const CONTROLLER = {
  bankMsb: 0,
  dataMsb: 6,
  volume: 7,
  pan: 10,
  expression: 11,
  bankLsb: 32,
  dataLsb: 38,
  damper: 64,
  nrpnLsb: 98,
  nrpnMsb: 99,
  rpnLsb: 100,
  rpnMsb: 101,
  allSoundOff: 120,
  dataIncrement: 96,
  dataDecrement: 97,
  resetControllers: 121,
  allNotesOff: 123,
} as const;
