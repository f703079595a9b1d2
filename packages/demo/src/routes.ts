import {
  PLAIN_CHANGE,
  PLAIN_FROM,
  PLAIN_MODULATION,
  PLAIN_ROUTE,
  type Route,
  type Routing,
} from '@idle-step/core/routing';
import { demoId, DEMO_PORT } from './ids';
import { there } from '@idle-step/core/sure';

type Part = Partial<Omit<Route, 'from' | 'change' | 'to'>> & {
  from: Partial<Route['from']>;
  change?: Partial<Route['change']>;
  to: Route['to'];
};

let nextRoute = 0;
const route = (name: string, { from, change, ...part }: Part): Route => ({
  id: demoId(21, ++nextRoute),
  name,
  ...PLAIN_ROUTE,
  ...part,
  from: { ...PLAIN_FROM, ...from },
  change: { ...PLAIN_CHANGE, ...change },
});

/** Scenes of Slow Ferry: the same keys play another instrument in its chorus and outro. */
const scenes = (...numbers: number[]): Route['gate'] => ({
  by: { kind: 'scenes', sceneIds: numbers.map((n) => demoId(12, n)) },
  startsOpen: true,
  holds: [],
  others: 'pass',
});

const KEYS: Partial<Route['from']> = {
  portIds: [DEMO_PORT.bollardUsb, DEMO_PORT.keys],
  kinds: ['note', 'pitch-bend'],
};

/** The layers of the rig, that scenes switch. */
export const DEMO_LAYER = { lowHum: demoId(21, 4), highBells: demoId(21, 5) } as const;

/** What happens to messages on their way in the cellist-singer's rig. */
export const demoRouting: Routing = {
  lines: [{ id: DEMO_PORT.keys, name: 'Keys' }],
  routes: [
    route('Bend and notes of the little keys', {
      from: { portIds: [DEMO_PORT.crossbarIn2], kinds: ['note', 'pitch-bend'], channels: [13] },
      to: [{ portId: DEMO_PORT.keys, channel: null }],
    }),
    route('Keys play the hum', {
      from: KEYS,
      gate: scenes(12, 13, 15),
      to: [{ portId: DEMO_PORT.deckhouseIn, channel: 2 }],
      after: 'pass',
    }),
    route('Keys play the bells', {
      from: KEYS,
      change: { transpose: 12 },
      gate: { ...there(scenes(14, 16)), startsOpen: false },
      to: [{ portId: DEMO_PORT.deckhouseIn, channel: 4 }],
      after: 'pass',
    }),
    route('Low hum', {
      isOn: false,
      isLayer: true,
      from: { ...KEYS, kinds: [], numbers: [{ from: 0, to: 59 }] },
      to: [{ portId: DEMO_PORT.deckhouseIn, channel: 2 }],
      after: 'pass',
    }),
    route('High bells', {
      isOn: false,
      isLayer: true,
      from: { ...KEYS, kinds: [], numbers: [{ from: 60, to: 127 }] },
      change: { transpose: 12 },
      to: [{ portId: DEMO_PORT.deckhouseIn, channel: 4 }],
      after: 'pass',
    }),
    route('Wash under low notes', {
      from: { ...KEYS, kinds: ['note'], numbers: [{ from: 0, to: 47 }] },
      modulation: {
        ...PLAIN_MODULATION,
        attackMs: 900,
        releaseMs: 1600,
        rest: 40,
        peak: 110,
        controller: 91,
      },
      to: [{ portId: DEMO_PORT.crossbarOutA, channel: 2 }],
    }),
    route('Knobs of the old desk', {
      from: {
        portIds: [DEMO_PORT.crossbarIn2],
        kinds: ['controller'],
        numbers: [{ from: 30, to: 31 }],
      },
      change: {
        numbers: [
          { kind: 'controller', from: 30, to: 7 },
          { kind: 'controller', from: 31, to: 10 },
        ],
        channel: { kind: 'force', channel: 8 },
      },
      to: [{ portId: DEMO_PORT.crossbarOutB, channel: null }],
    }),
  ],
  othersTo: [],
};
