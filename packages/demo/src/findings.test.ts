import { compileWorld, showOfSet } from '@idle-step/core/engine';
import { applied, type Json, type Mend } from '@idle-step/core/edits';
import {
  PLAIN_ASSIGNMENT,
  type Action,
  type Assignment,
  type Board,
  type Preset,
} from '@idle-step/core/floor';
import { PLAIN_PORT, type Device } from '@idle-step/core/gear';
import { memoryBytes, memoryOf } from '@idle-step/core/memory';
import {
  findingsOf,
  groundOf,
  NOTHING_KNOWN,
  notStoredIn,
  WHY,
  type GearKnown,
  type ProofCode,
} from '@idle-step/core/proof';
import { PLAIN_FROM, PLAIN_ROUTE, type FullRig, type Route } from '@idle-step/core/routing';
import type { Scene, Setlist, Song } from '@idle-step/core/show';
import { describe, expect, it } from 'vitest';
import { demoPresets, demoRig, demoSets, demoSongs } from './index';

/** The evening that is looked at. */
type Evening = {
  readonly rig: FullRig;
  readonly presets: readonly Preset[];
  readonly songs: readonly Song[];
  readonly set: Setlist;
  readonly known: GearKnown;
};

const NOW = Date.UTC(2026, 10, 26, 12);
const sound: Evening = {
  rig: demoRig,
  presets: demoPresets,
  songs: demoSongs,
  set: demoSets[0]!,
  known: { ...NOTHING_KNOWN, nowMs: NOW, today: '2026-11-26' },
};

const findings = ({ rig, presets, songs, set, known }: Evening) => {
  const show = { rig, presets, ...showOfSet(set, songs) };
  return findingsOf({ world: compileWorld(show), show, set, known });
};
const codes = (evening: Evening): string[] => findings(evening).map((f) => f.code);

/** A mend pressed: the plain edit of one document that it is. */
function pressed(evening: Evening, { document, documentId, changes }: Mend): Evening {
  const to = <T>(doc: T): T => applied(doc as Json, changes) as T;
  const own = <T extends { id: string }>(list: readonly T[]) =>
    list.map((d) => (d.id === documentId ? to(d) : d));
  switch (document) {
    case 'rig':
      return { ...evening, rig: to(evening.rig) };
    case 'preset':
      return { ...evening, presets: own(evening.presets) };
    case 'song':
      return { ...evening, songs: own(evening.songs) };
    case 'set':
      return { ...evening, set: to(evening.set) };
  }
}

const device = (name: string): Device => demoRig.devices.find((d) => d.name === name)!;
const fn = (of: string, name: string) => device(of).chart.find((f) => f.name === name)!;
const port = (of: string, name: string) => device(of).ports.find((p) => p.name === name)!;
const [plank, twig] = [demoRig.boards[0]!, demoRig.boards[1]!];
const control = (name: string, board: Board = plank) => board.controls.find((c) => c.name === name)!;

type Plant = (evening: Evening) => Evening;
const withDevice =
  (name: string, change: (d: Device) => Device): Plant =>
  (e) => ({ ...e, rig: { ...e.rig, devices: e.rig.devices.map((d) => (d.name === name ? change(d) : d)) } });
const withBoard =
  (change: (b: Board) => Board, board: Board = plank): Plant =>
  (e) => ({ ...e, rig: { ...e.rig, boards: e.rig.boards.map((b) => (b.id === board.id ? change(b) : b)) } });
const withRoutes =
  (...routes: Route[]): Plant =>
  (e) => ({
    ...e,
    rig: {
      ...e.rig,
      routing: {
        ...e.rig.routing,
        lines: [...e.rig.routing.lines, { id: 'l1', name: 'l1' }, { id: 'l2', name: 'l2' }],
        routes: [...e.rig.routing.routes, ...routes],
      },
    },
  });
const withScene =
  (song: string, scene: string, change: (s: Scene) => Scene): Plant =>
  (e) => ({
    ...e,
    songs: e.songs.map((s) =>
      s.name === song ? { ...s, scenes: s.scenes.map((c) => (c.name === scene ? change(c) : c)) } : s,
    ),
  });
const withSong =
  (song: string, change: (s: Song) => Song): Plant =>
  (e) => ({ ...e, songs: e.songs.map((s) => (s.name === song ? change(s) : s)) });
const withSet =
  (change: (s: Setlist) => Setlist): Plant =>
  (e) => ({ ...e, set: change(e.set) });
const knowing =
  (part: Partial<GearKnown>): Plant =>
  (e) => ({ ...e, known: { ...e.known, ...part } });
/** What a control does in a bank, in place of what it did. */
const doing =
  (name: string, part: Partial<Assignment>, bank = 0, board: Board = plank): Plant =>
  (e) => {
    const controlId = control(name, board).id;
    const next: Assignment = { ...PLAIN_ASSIGNMENT, controlId, ...part };
    return {
      ...e,
      presets: e.presets.map((p) =>
        p.boardId !== board.id
          ? p
          : {
              ...p,
              banks: p.banks.map((b, i) =>
                i !== bank
                  ? b
                  : { ...b, assignments: [...b.assignments.filter((a) => a.controlId !== controlId), next] },
              ),
            },
      ),
    };
  };
const both =
  (...plants: Plant[]): Plant =>
  (e) =>
    plants.reduce((now, plant) => plant(now), e);

let nextId = 0;
type Loose = Action extends infer A ? (A extends { id: string } ? Omit<A, 'id'> : never) : never;
const act = (action: Loose): Action => ({ ...action, id: `planted-${++nextId}` }) as Action;
const toggle = (of: string, name: string) => act({ kind: 'toggle', functionId: fn(of, name).id });
const set = (of: string, name: string, value: number) =>
  act({ kind: 'set', functionId: fn(of, name).id, value });
const alone = withBoard((b) => ({
  ...b,
  mode: 'standalone',
  can: {
    banks: null,
    actions: null,
    gestures: ['press', 'release', 'hold', 'doublePress', 'toe', 'heel'],
    messages: ['note', 'controller', 'program', 'sysex', 'clock'],
  },
}));
const aloneNow = both(alone, knowing({ notStored: new Map() }));
const usbIn = (id: string, part: object = {}) => ({
  ...PLAIN_PORT,
  id,
  name: id,
  direction: 'in' as const,
  link: 'usb' as const,
  ...part,
});
const cableTo =
  (fromPortId: string, toPortId: string): Plant =>
  (e) => ({
    ...e,
    rig: { ...e.rig, cables: [...e.rig.cables, { id: `${fromPortId}>${toPortId}`, fromPortId, toPortId }] },
  });
/** A cable that may be there. */
const rightCable: Plant = (e) =>
  cableTo(
    'spare',
    port('Crossbar', 'In 2').id,
  )(
    withDevice('Roundel', (d) => ({
      ...d,
      ports: [...d.ports, { ...usbIn('spare'), link: 'din', direction: 'out' }],
    }))(e),
  );
const noCable =
  (toPortId: string): Plant =>
  (e) => ({ ...e, rig: { ...e.rig, cables: e.rig.cables.filter((c) => c.toPortId !== toPortId) } });
const route = (id: string, from: string, to: string, part: Partial<Route> = {}): Route => ({
  ...PLAIN_ROUTE,
  id,
  name: id,
  from: { ...PLAIN_FROM, portIds: [from] },
  to: [{ portId: to, channel: null }],
  ...part,
});
const gate: Route['gate'] = { by: { kind: 'switch' }, startsOpen: false, holds: [], others: 'pass' };
const setsValue = (song: string, scene: string, of: string, name: string, value: number) =>
  withScene(song, scene, (s) => ({
    ...s,
    values: [
      ...s.values.filter((v) => v.functionId !== fn(of, name).id),
      { functionId: fn(of, name).id, value, way: null },
    ],
  }));
const lampOf = (of: string, name: string, on: number): Partial<Assignment> => ({
  lamp: {
    kind: 'function',
    functionId: fn(of, name).id,
    stops: [
      { from: 0, light: on === 0 ? 'steady' : 'off', colour: null, sends: null },
      { from: 1, light: on === 0 ? 'off' : 'steady', colour: null, sends: null },
    ],
  },
});
const latching = (name: string) =>
  withBoard((b) => ({
    ...b,
    controls: b.controls.map((c) =>
      c.name === name ? { ...c, hardware: { ...c.hardware, switching: 'latching' } } : c,
    ),
  }));
const plainController = act({
  kind: 'message',
  deviceId: device('Kelpline').id,
  channel: null,
  send: 'controller',
  number: 71,
  value: 3,
});
const raw = (...bytes: number[]) => act({ kind: 'raw', portId: port('Crossbar', 'Out A').id, bytes });
const glide = (amount: number, unit: 's' | 'beats'): Scene['transition'] => ({
  time: { amount, unit },
  curve: 'linear',
  switchAt: 0,
});
const today = withSet((s) => ({ ...s, date: '2026-11-26' }));
const started = (name: string): Plant =>
  withDevice(name, (d) => ({ ...d, startUp: d.startUp.map((s) => ({ ...s, done: true })) }));
const allStarted = both(...demoRig.devices.map((d) => started(d.name)));
const calls = (base: number): Plant =>
  withSet((s) => ({ ...s, calls: { portId: port('Crossbar', 'In 1').id, channel: 3, base } }));
const reports = (program: number): Plant =>
  both(
    withDevice('Crossbar', (d) => d),
    (e) => ({
      ...e,
      rig: {
        ...e.rig,
        boards: e.rig.boards.map((b) =>
          b.id === plank.id
            ? {
                ...b,
                controls: b.controls.map((c) =>
                  c.name === 'far 5' ? { ...c, channel: 3, sends: { kind: 'program', number: program } } : c,
                ),
              }
            : b,
        ),
      },
    }),
  );

/** A fault that is planted, and what is almost the same and none. `says`: words of its sentence. */
type Case = readonly [code: ProofCode, says: string, plant: Plant, near: Plant];

const CASES: readonly Case[] = [
  ['gone', 'ends at a port that is gone', cableTo('nowhere', port('Kelpline', 'In').id), rightCable],
  [
    'gone',
    'is gone',
    doing('far 1', { press: [act({ kind: 'toggle', functionId: 'no-such-row' })] }),
    doing('far 1', { press: [toggle('Kelpline', 'Drive')] }),
  ],
  ['same-device', 'one device', cableTo(port('Kelpline', 'Thru').id, port('Kelpline', 'In').id), rightCable],
  [
    'same-device',
    'one device',
    cableTo(port('Crossbar', 'Out B').id, port('Crossbar', 'In 2').id),
    rightCable,
  ],
  ['wrong-direction', 'inputs', cableTo(port('Crossbar', 'In 2').id, port('Roundel', 'In').id), rightCable],
  [
    'wrong-direction',
    'outputs',
    cableTo(port('Crossbar', 'Out A').id, port('Plank 10', 'Out').id),
    rightCable,
  ],
  ['other-link', 'same link', cableTo(port('Bollard', 'USB 1').id, port('Crossbar', 'In 2').id), rightCable],
  ['other-link', 'same link', cableTo(port('Crossbar', 'Out B').id, port('Bollard', 'USB 2').id), rightCable],
  [
    'no-host',
    'both USB devices',
    both(
      withDevice('Roundel', (d) => ({ ...d, ports: [...d.ports, usbIn('roundel usb')] })),
      cableTo(port('Tiller 25', 'USB').id, 'roundel usb'),
    ),
    both(
      withDevice('Roundel', (d) => ({
        ...d,
        ports: [...d.ports, usbIn('roundel usb', { isUsbHost: true })],
      })),
      cableTo(port('Tiller 25', 'USB').id, 'roundel usb'),
    ),
  ],
  [
    'no-host',
    'both USB devices',
    both(
      withDevice('Sluice', (d) => ({ ...d, ports: [...d.ports, usbIn('sluice usb')] })),
      cableTo(port('Twig 4', 'USB').id, 'sluice usb'),
    ),
    both(
      withDevice('Sluice', (d) => ({ ...d, ports: [...d.ports, usbIn('sluice usb', { isUsbHost: true })] })),
      cableTo(port('Twig 4', 'USB').id, 'sluice usb'),
    ),
  ],
  [
    'two-hosts',
    'both USB hosts',
    both(
      withDevice('Tiller 25', (d) => ({ ...d, ports: d.ports.map((p) => ({ ...p, isUsbHost: true })) })),
      cableTo(port('Tiller 25', 'USB').id, port('Bollard', 'USB 2').id),
    ),
    rightCable,
  ],
  [
    'two-hosts',
    'both USB hosts',
    both(
      withDevice('Twig 4', (d) => ({ ...d, ports: d.ports.map((p) => ({ ...p, isUsbHost: true })) })),
      cableTo(port('Twig 4', 'USB').id, port('Bollard', 'USB 2').id),
    ),
    rightCable,
  ],
  [
    'split',
    'drives one input',
    both(
      withDevice('Roundel', (d) => ({ ...d, ports: [...d.ports, { ...usbIn('more'), link: 'din' }] })),
      cableTo(port('Plank 10', 'Out').id, 'more'),
    ),
    rightCable,
  ],
  [
    'split',
    'drives one input',
    both(
      withDevice('Lamplighter', (d) => ({ ...d, ports: [...d.ports, { ...usbIn('more'), link: 'din' }] })),
      cableTo(port('Kelpline', 'Thru').id, 'more'),
    ),
    rightCable,
  ],
  [
    'merge',
    'takes one cable',
    both(
      withDevice('Crossbar', (d) => ({
        ...d,
        ports: [...d.ports, { ...usbIn('spare'), link: 'din', direction: 'out' }],
      })),
      cableTo('spare', port('Kelpline', 'In').id),
    ),
    rightCable,
  ],
  [
    'merge',
    'takes one cable',
    both(
      withDevice('Roundel', (d) => ({
        ...d,
        ports: [...d.ports, { ...usbIn('spare'), link: 'din', direction: 'out' }],
      })),
      cableTo('spare', port('Crossbar', 'In 1').id),
    ),
    rightCable,
  ],
  [
    'same-channel',
    'both answer on channel 3',
    withDevice('Roundel', (d) => ({ ...d, channel: 2 })),
    withDevice('Roundel', (d) => ({ ...d, channel: 9 })),
  ],
  [
    'same-channel',
    'both answer on every channel',
    both(
      withDevice('Kelpline', (d) => ({ ...d, listens: { kind: 'omni' } })),
      withDevice('Sluice', (d) => ({ ...d, listens: { kind: 'omni' } })),
      withDevice('Lamplighter', (d) => ({ ...d, listens: { kind: 'omni' } })),
      withDevice('Roundel', (d) => ({ ...d, listens: { kind: 'omni' } })),
    ),
    withDevice('Deckhouse', (d) => ({ ...d, listens: { kind: 'omni' } })),
  ],
  [
    'reaches-nothing',
    'Plank 10 reaches nothing',
    noCable(port('Crossbar', 'In 1').id),
    both(
      noCable(port('Crossbar', 'In 1').id),
      withDevice('Plank 10', (d) => ({ ...d, away: true })),
    ),
  ],
  [
    'reaches-nothing',
    'Twig 4 reaches nothing',
    withDevice('Twig 4', (d) => ({ ...d, ports: d.ports.map((p) => ({ ...p, atComputer: false })) })),
    withDevice('Twig 4', (d) => ({
      ...d,
      away: true,
      ports: d.ports.map((p) => ({ ...p, atComputer: false })),
    })),
  ],
  [
    'row-double',
    'Drive and Chorus',
    withDevice('Kelpline', (d) => ({
      ...d,
      chart: d.chart.map((f) => (f.name === 'Chorus' ? { ...f, drive: fn('Kelpline', 'Drive').drive } : f)),
    })),
    withDevice('Kelpline', (d) => ({
      ...d,
      chart: d.chart.map((f) =>
        f.name === 'Chorus' ? { ...f, drive: fn('Kelpline', 'Drive').drive, channel: 14 } : f,
      ),
    })),
  ],
  [
    'row-double',
    'Look and Look again',
    withDevice('Lamplighter', (d) => ({
      ...d,
      chart: [...d.chart, { ...d.chart[0]!, id: 'twin', name: 'Look again' }],
    })),
    withDevice('Lamplighter', (d) => ({
      ...d,
      chart: [
        ...d.chart,
        {
          ...d.chart[0]!,
          id: 'twin',
          name: 'Look again',
          drive: { kind: 'controller', controller: 99 },
          shape: { kind: 'range', min: 0, max: 9, shownFrom: 0 },
        },
      ],
    })),
  ],
  ['no-cable', 'Kelpline', noCable(port('Kelpline', 'In').id), noCable(port('Roundel', 'In').id)],
  [
    'no-cable',
    'Deckhouse',
    withDevice('Deckhouse', (d) => ({ ...d, ports: d.ports.map((p) => ({ ...p, atComputer: false })) })),
    noCable(port('Lamplighter', 'In').id),
  ],
  [
    'packed-away',
    'Kelpline is packed away',
    withDevice('Kelpline', (d) => ({ ...d, away: true })),
    withDevice('Roundel', (d) => ({ ...d, away: true })),
  ],
  [
    'packed-away',
    'Deckhouse is packed away',
    withDevice('Deckhouse', (d) => ({ ...d, away: true })),
    withDevice('Lamplighter', (d) => ({ ...d, away: true })),
  ],
  [
    'port-off',
    'Out A of Crossbar',
    withDevice('Crossbar', (d) => ({
      ...d,
      ports: d.ports.map((p) => (p.name === 'Out A' ? { ...p, plays: false } : p)),
    })),
    withDevice('Crossbar', (d) => ({
      ...d,
      ports: d.ports.map((p) => (p.name === 'In 2' ? { ...p, plays: false } : p)),
    })),
  ],
  [
    'port-off',
    'In 1 of Crossbar',
    withDevice('Crossbar', (d) => ({
      ...d,
      ports: d.ports.map((p) => (p.name === 'In 1' ? { ...p, plays: false } : p)),
    })),
    withDevice('Crossbar', (d) => ({
      ...d,
      ports: d.ports.map((p) => (p.name === 'In 2' ? { ...p, plays: false } : p)),
    })),
  ],
  [
    'port-away',
    'Out A of Crossbar is not there',
    knowing({ portsAway: [port('Crossbar', 'Out A').id] }),
    knowing({ portsAway: ['of another rig'] }),
  ],
  [
    'port-away',
    'USB of Twig 4 is not there',
    knowing({ portsAway: [port('Twig 4', 'USB').id] }),
    both(
      knowing({ portsAway: [port('Tiller 25', 'USB').id] }),
      withDevice('Tiller 25', (d) => ({ ...d, away: true })),
    ),
  ],
  [
    'start-up',
    'Deckhouse is not started yet',
    both(
      today,
      allStarted,
      withDevice('Deckhouse', (d) => device('Deckhouse') && { ...d, startUp: device('Deckhouse').startUp }),
    ),
    both(today, allStarted),
  ],
  [
    'start-up',
    'Crossbar is not started yet',
    both(
      today,
      allStarted,
      withDevice('Crossbar', (d) => ({
        ...d,
        startUp:
          device('Crossbar').startUp.length > 0
            ? device('Crossbar').startUp
            : [{ id: 's', text: 'Plug it in', done: false }],
      })),
    ),
    withSet((s) => ({ ...s, date: '2026-11-27' })),
  ],
  [
    'double',
    'sends the same on this page',
    both(
      doing('far 1', { press: [set('Kelpline', 'Drive', 1)] }),
      doing('far 2', { press: [set('Kelpline', 'Drive', 1)] }),
    ),
    both(
      doing('far 1', { press: [set('Kelpline', 'Drive', 1)] }),
      doing('far 2', { press: [set('Kelpline', 'Drive', 0)] }),
    ),
  ],
  [
    'double',
    'sends the same on this page',
    both(
      doing('near 1', { press: [set('Kelpline', 'Snapshot', 3)] }),
      doing('near 2', { press: [set('Kelpline', 'Snapshot', 3)] }),
    ),
    both(
      doing('near 1', { press: [set('Kelpline', 'Snapshot', 3)] }),
      doing('near 2', { press: [set('Kelpline', 'Snapshot', 2)] }),
    ),
  ],
  [
    'reserved',
    'for its own hardware',
    doing('far 1', { press: [set('Kelpline', 'Panel knob 1', 3)] }),
    doing('far 1', { press: [set('Kelpline', 'Tone', 3)] }),
  ],
  [
    'reserved',
    'for its own hardware',
    doing('far 1', { press: [set('Kelpline', 'Panel knob 2', 3)] }, 1),
    doing('far 1', { press: [set('Kelpline', 'Depth', 3)] }, 1),
  ],
  [
    'off-by-one',
    'What is shown is one more than what is sent',
    doing('near 1', { press: [set('Kelpline', 'Snapshot', 8)] }, 1),
    doing('near 1', { press: [set('Kelpline', 'Snapshot', 7)] }, 1),
  ],
  [
    'off-by-one',
    'The label says 3',
    doing('near 1', { label: 'Snap 3', press: [set('Kelpline', 'Snapshot', 3)] }, 1),
    doing('near 1', { label: 'Snap 4', press: [set('Kelpline', 'Snapshot', 3)] }, 1),
  ],
  [
    'beyond-board',
    'cannot tell a hold',
    both(
      aloneNow,
      withBoard((b) => ({ ...b, can: { ...b.can, gestures: ['press'] } })),
      doing('far 1', { hold: [set('Kelpline', 'Tone', 1)] }),
    ),
    both(
      withBoard((b) => ({ ...b, can: { ...b.can, gestures: ['press'] } })),
      doing('far 1', { hold: [set('Kelpline', 'Tone', 1)] }),
    ),
  ],
  [
    'beyond-board',
    'cannot send',
    both(
      aloneNow,
      withBoard((b) => ({ ...b, can: { ...b.can, messages: ['note'] } })),
      doing('far 1', { press: [plainController] }),
    ),
    both(
      withBoard((b) => ({ ...b, can: { ...b.can, messages: ['note'] } })),
      doing('far 1', { press: [plainController] }),
    ),
  ],
  [
    'lamp-turned-round',
    'is lit while',
    doing('far 1', { press: [toggle('Kelpline', 'Drive')], ...lampOf('Kelpline', 'Drive', 0) }),
    doing('far 1', { press: [toggle('Kelpline', 'Drive')], ...lampOf('Kelpline', 'Drive', 1) }),
  ],
  [
    'lamp-turned-round',
    'is lit while',
    doing('near 4', { press: [toggle('Kelpline', 'Tremolo')], ...lampOf('Kelpline', 'Tremolo', 0) }),
    doing('near 4', { press: [toggle('Kelpline', 'Tremolo')], ...lampOf('Kelpline', 'Drive', 0) }),
  ],
  [
    'toggles-twice',
    'Drive when it is pressed and again',
    doing('far 1', { press: [toggle('Kelpline', 'Drive')], release: [toggle('Kelpline', 'Drive')] }),
    doing('far 1', { press: [toggle('Kelpline', 'Drive')], release: [toggle('Kelpline', 'Gate')] }),
  ],
  [
    'toggles-twice',
    'Gate when it is pressed and again',
    doing('near 4', {
      press: [set('Kelpline', 'Tone', 1), toggle('Kelpline', 'Gate')],
      release: [toggle('Kelpline', 'Gate')],
    }),
    doing('near 4', {
      press: [toggle('Kelpline', 'Gate')],
      release: [{ ...toggle('Kelpline', 'Gate'), isOff: true }],
    }),
  ],
  [
    'latching-gesture',
    'a hold',
    both(latching('far 1'), doing('far 1', { hold: [toggle('Kelpline', 'Gate')] })),
    doing('far 1', { hold: [toggle('Kelpline', 'Gate')] }),
  ],
  [
    'latching-gesture',
    'a double press',
    both(latching('near 4'), doing('near 4', { doublePress: [toggle('Kelpline', 'Gate')] })),
    both(latching('near 4'), doing('near 4', { press: [toggle('Kelpline', 'Gate')] })),
  ],
  [
    'drifts',
    'toggles Drive by itself',
    both(
      aloneNow,
      setsValue('Low Water', 'Verse', 'Kelpline', 'Drive', 1),
      doing('far 1', { press: [toggle('Kelpline', 'Drive')] }),
    ),
    both(
      setsValue('Low Water', 'Verse', 'Kelpline', 'Drive', 1),
      doing('far 1', { press: [toggle('Kelpline', 'Drive')] }),
    ),
  ],
  [
    'drifts',
    'toggles Tremolo by itself',
    both(
      aloneNow,
      setsValue('Heron', 'Rising', 'Kelpline', 'Tremolo', 1),
      doing('near 4', { press: [toggle('Kelpline', 'Tremolo')] }),
    ),
    both(
      setsValue('Heron', 'Rising', 'Kelpline', 'Tremolo', 1),
      doing('near 4', { press: [toggle('Kelpline', 'Tremolo')] }),
    ),
  ],
  [
    'note-hangs',
    'nothing ends it',
    doing('near 4', { press: [raw(0x92, 60, 100)] }),
    doing('near 4', { press: [raw(0x92, 60, 100)], release: [raw(0x82, 60, 0)] }),
  ],
  [
    'note-hangs',
    'nothing ends it',
    doing('near 4', { press: [raw(0x92, 60, 100)], release: [raw(0x92, 61, 0)] }),
    doing('near 4', { press: [raw(0x92, 60, 100, 0x92, 60, 0)] }),
  ],
  ['stuck-bank', 'bank Snapshots', both(withTwigEmpty(), withBankSilent(1)), withBankSilent(1)],
  [
    'stuck-bank',
    'bank Sound check',
    both(withTwigEmpty(), withBankSilent(2)),
    both(
      withTwigEmpty(),
      withBankSilent(2),
      doing('far 1', { press: [act({ kind: 'bank', to: { kind: 'up' } })] }, 2),
    ),
  ],
  [
    'told-deaf',
    'still loads a program',
    both(aloneNow, doing('near 4', { press: [set('Kelpline', 'Program', 3), set('Kelpline', 'Tone', 9)] })),
    both(
      aloneNow,
      doing('near 4', {
        press: [
          set('Kelpline', 'Program', 3),
          { ...set('Kelpline', 'Tone', 9), delay: { amount: 50, unit: 'ms' } },
        ],
      }),
    ),
  ],
  [
    'told-deaf',
    'still loads a program',
    both(
      aloneNow,
      doing('near 4', { release: [set('Kelpline', 'Program', 3), set('Kelpline', 'Snapshot', 2)] }),
    ),
    both(
      aloneNow,
      doing('near 4', { press: [set('Kelpline', 'Snapshot', 2), set('Kelpline', 'Program', 3)] }),
    ),
  ],
  [
    'not-stored',
    'something else stored',
    both(alone, knowing({ notStored: new Map([[plank.id, 'differs']]) })),
    knowing({ notStored: new Map([[plank.id, 'differs']]) }),
  ],
  [
    'not-stored',
    'It is not known what Plank 10 has stored',
    both(alone, knowing({ notStored: new Map([[plank.id, 'unknown']]) })),
    aloneNow,
  ],
  [
    'ring',
    'feed each other',
    withRoutes(route('r1', 'l1', 'l2'), route('r2', 'l2', 'l1')),
    withRoutes(route('r1', 'l1', 'l2'), route('r2', 'l2', 'l1', { isOn: false })),
  ],
  ['ring', 'feeds itself', withRoutes(route('r1', 'l1', 'l1')), withRoutes(route('r1', 'l1', 'l2'))],
  [
    'starved',
    'nothing of this reaches',
    withRoutes(
      route('r1', port('Crossbar', 'In 2').id, 'l1', { gate }),
      route('r2', port('Crossbar', 'In 2').id, 'l2'),
    ),
    withRoutes(
      route('r1', port('Crossbar', 'In 2').id, 'l1', { gate, after: 'pass' }),
      route('r2', port('Crossbar', 'In 2').id, 'l2'),
    ),
  ],
  [
    'starved',
    'nothing of this reaches',
    withRoutes(
      route('r1', 'l1', port('Crossbar', 'Out B').id, { gate }),
      route('r2', 'l1', port('Crossbar', 'Out B').id),
    ),
    withRoutes(
      route('r1', 'l1', port('Crossbar', 'Out B').id, { gate }),
      route('r2', 'l2', port('Crossbar', 'Out B').id),
    ),
  ],
  [
    'none-armed',
    'No track is armed in Rising',
    withScene('Heron', 'Rising', (s) => ({ ...s, armedFunctionIds: [] })),
    withScene('Heron', 'Rising', (s) => ({ ...s, armedFunctionIds: [fn('Deckhouse', 'Arm Bow').id] })),
  ],
  [
    'none-armed',
    'No track is armed in Outro',
    withScene('Low Water', 'Outro', (s) => ({ ...s, armedFunctionIds: [] })),
    withScene('Low Water', 'Outro', (s) => ({ ...s, armedFunctionIds: [fn('Deckhouse', 'Arm Bow').id] })),
  ],
  [
    'two-armed',
    'both listen to cello',
    withScene('Low Water', 'Verse', (s) => ({
      ...s,
      armedFunctionIds: [fn('Deckhouse', 'Arm Bow').id, fn('Deckhouse', 'Arm Reeds').id],
    })),
    withScene('Low Water', 'Verse', (s) => ({
      ...s,
      armedFunctionIds: [fn('Deckhouse', 'Arm Bow').id, fn('Deckhouse', 'Arm Voice').id],
    })),
  ],
  [
    'two-armed',
    'both listen to keys',
    withScene('Heron', 'Rising', (s) => ({
      ...s,
      armedFunctionIds: [fn('Deckhouse', 'Arm Hum').id, fn('Deckhouse', 'Arm Bells').id],
    })),
    withScene('Heron', 'Rising', (s) => ({
      ...s,
      armedFunctionIds: [
        fn('Deckhouse', 'Arm Field').id,
        fn('Deckhouse', 'Arm Click').id,
        fn('Deckhouse', 'Arm Bow').id,
      ],
    })),
  ],
  [
    'value-outside',
    'What is shown is one more',
    setsValue('Low Water', 'Verse', 'Kelpline', 'Snapshot', 8),
    setsValue('Low Water', 'Verse', 'Kelpline', 'Snapshot', 7),
  ],
  [
    'value-outside',
    'Drive to 2 as sent',
    setsValue('Heron', 'Rising', 'Kelpline', 'Drive', 2),
    setsValue('Heron', 'Rising', 'Kelpline', 'Drive', 1),
  ],
  [
    'scene-gone',
    'gone from its chart',
    withScene('Heron', 'Rising', (s) => ({
      ...s,
      values: [...s.values, { functionId: 'nobody', value: 1, way: null }],
    })),
    setsValue('Heron', 'Rising', 'Kelpline', 'Tone', 4),
  ],
  [
    'scene-gone',
    'gone from its chart',
    withDevice('Kelpline', (d) => ({ ...d, chart: d.chart.filter((f) => f.name !== 'Snapshot') })),
    withDevice('Roundel', (d) => ({ ...d, chart: d.chart.filter((f) => f.name !== 'Redo 4') })),
  ],
  [
    'not-in-force',
    'only under',
    both(
      withDevice('Kelpline', (d) => ({
        ...d,
        chart: d.chart.map((f) => (f.name === 'Tone' ? { ...f, under: 'free' } : f)),
      })),
      setsValue('Heron', 'Rising', 'Kelpline', 'Tone', 4),
    ),
    both(
      withDevice('Kelpline', (d) => ({
        ...d,
        chart: d.chart.map((f) => (f.name === 'Tone' ? { ...f, under: 'kept by the panel' } : f)),
      })),
      setsValue('Heron', 'Rising', 'Kelpline', 'Tone', 4),
    ),
  ],
  [
    'not-in-force',
    'only under',
    both(
      withDevice('Kelpline', (d) => ({
        ...d,
        chart: d.chart.map((f) => (f.name === 'Depth' ? { ...f, under: 'free' } : f)),
      })),
      setsValue('Low Water', 'Verse', 'Kelpline', 'Depth', 4),
    ),
    withDevice('Kelpline', (d) => ({
      ...d,
      chart: d.chart.map((f) => (f.name === 'Depth' ? { ...f, under: 'free' } : f)),
    })),
  ],
  [
    'scene-kept',
    'keeps for itself',
    setsValue('Heron', 'Rising', 'Kelpline', 'Panel knob 1', 4),
    setsValue('Heron', 'Rising', 'Kelpline', 'Tone', 4),
  ],
  [
    'scene-kept',
    'keeps for itself',
    both(
      withDevice('Roundel', (d) => ({
        ...d,
        chart: d.chart.map((f) => (f.name === 'Feedback' ? { ...f, reserved: true } : f)),
      })),
      setsValue('Low Water', 'Verse', 'Roundel', 'Feedback', 4),
    ),
    setsValue('Low Water', 'Verse', 'Roundel', 'Feedback', 4),
  ],
  [
    'bank-gone',
    'bank 9',
    withScene('Heron', 'Rising', (s) => ({ ...s, banks: [{ boardId: plank.id, index: 8 }] })),
    withScene('Heron', 'Rising', (s) => ({ ...s, banks: [{ boardId: plank.id, index: 2 }] })),
  ],
  [
    'bank-gone',
    'a board that is gone',
    withScene('Low Water', 'Verse', (s) => ({ ...s, banks: [{ boardId: 'gone', index: 0 }] })),
    withScene('Low Water', 'Verse', (s) => ({ ...s, banks: [{ boardId: twig.id, index: 0 }] })),
  ],
  [
    'glide-too-long',
    'glides for 20.0 s',
    withScene('Slow Ferry', 'Intro', (s) => ({ ...s, transition: glide(20, 's') })),
    withScene('Slow Ferry', 'Intro', (s) => ({ ...s, transition: glide(19, 's') })),
  ],
  [
    'glide-too-long',
    'glides for',
    withScene('Slow Ferry', 'Chorus', (s) => ({ ...s, transition: glide(33, 'beats') })),
    withScene('Slow Ferry', 'Chorus', (s) => ({ ...s, transition: glide(32, 'beats') })),
  ],
  [
    'too-slow',
    'on Crossbar Out A',
    manyValues('Low Water', 'Verse', 64),
    manyValues('Low Water', 'Verse', 8),
  ],
  ['too-slow', 'on Crossbar Out A', manyValues('Heron', 'Rising', 70), manyValues('Heron', 'Rising', 10)],
  [
    'no-scenes',
    'has no scenes yet',
    withSong('Heron', (s) => ({ ...s, scenes: [], parts: [] })),
    withSong('Heron', (s) => ({ ...s, scenes: s.scenes.slice(0, 1), parts: [] })),
  ],
  [
    'no-scenes',
    'has no scenes yet',
    withSong('Low Water', (s) => ({ ...s, scenes: [], parts: [] })),
    both(
      withSong('Low Water', (s) => ({ ...s, scenes: [], parts: [] })),
      withSet((s) => ({
        ...s,
        entries: s.entries.map((x) =>
          x.kind === 'song' && x.songId === demoSongs.find((y) => y.name === 'Low Water')!.id
            ? { ...x, notTonight: true }
            : x,
        ),
      })),
    ),
  ],
  ['calls-overlap', 'far 5 sends this program', both(calls(5), reports(7)), both(calls(5), reports(60))],
  ['calls-overlap', 'no program beyond 127', calls(120), calls(117)],
  [
    'song-gone',
    'is gone',
    withSet((s) => ({
      ...s,
      entries: s.entries.map((x, i) => (i === 0 && x.kind === 'song' ? { ...x, songId: 'gone' } : x)),
    })),
    withSet((s) => ({ ...s, entries: s.entries.slice(1) })),
  ],
  [
    'song-gone',
    'is gone',
    withSet((s) => ({
      ...s,
      entries: [...s.entries, { ...(s.entries[0] as object), id: 'more', songId: 'gone' } as never],
    })),
    withSet((s) => ({
      ...s,
      entries: [
        ...s.entries,
        { ...(s.entries[0] as object), id: 'more', songId: 'gone', notTonight: true } as never,
      ],
    })),
  ],
  [
    'check-old',
    '15 days ago',
    knowing({ lastCheckMs: NOW - 15 * 86_400_000 }),
    knowing({ lastCheckMs: NOW - 14 * 86_400_000 }),
  ],
  [
    'check-old',
    '40 days ago',
    knowing({ lastCheckMs: NOW - 40 * 86_400_000 }),
    knowing({ lastCheckMs: null }),
  ],
];

/** Nothing on the small board leads anywhere. */
function withTwigEmpty(): Plant {
  return (e) => ({
    ...e,
    presets: e.presets.map((p) =>
      p.boardId === twig.id ? { ...p, banks: p.banks.map((b) => ({ ...b, assignments: [] })) } : p,
    ),
  });
}

/** A bank of the large board without its scenes and without the way to another bank. */
function withBankSilent(bank: number): Plant {
  return (e) => ({
    ...e,
    presets: e.presets.map((p) =>
      p.boardId !== plank.id
        ? p
        : {
            ...p,
            banks: p.banks.map((b, i) =>
              i !== bank
                ? b
                : {
                    ...b,
                    assignments: b.assignments.filter((a) =>
                      a.press.every((x) => x.kind === 'set' || x.kind === 'toggle'),
                    ),
                  },
            ),
          },
    ),
  });
}

/** A scene that sets so many more values of the string processor. */
function manyValues(song: string, scene: string, count: number): Plant {
  const rows = Array.from({ length: count }, (_, i) => ({
    ...fn('Kelpline', 'Tone'),
    id: `many-${i}`,
    name: `Many ${i}`,
    channel: 13,
    drive: { kind: 'parameter' as const, registered: false, parameter: i, bits: 7 as const },
  }));
  return both(
    withDevice('Kelpline', (d) => ({ ...d, chart: [...d.chart, ...rows] })),
    withScene(song, scene, (s) => ({
      ...s,
      values: [...s.values, ...rows.map((r, i) => ({ functionId: r.id, value: i % 128, way: null }))],
    })),
  );
}

describe('what is held against an evening', () => {
  it('is nothing for a sound rig and its sets', () => {
    for (const set of demoSets) expect(findings({ ...sound, set })).toEqual([]);
  });

  it('is every kind at least twice, each with a near case, 80 or more', () => {
    expect(CASES.length).toBeGreaterThanOrEqual(80);
    for (const code of Object.keys(WHY))
      if (code !== 'loop')
        expect([code, CASES.filter(([c]) => c === code).length >= 2]).toEqual([code, true]);
  });

  it.each(CASES.map(([code, says, plant, near], i) => ({ name: `${code} ${i}`, code, says, plant, near })))(
    '$name is found, named, and none in a near case',
    ({ code, says, plant, near }) => {
      const planted = plant(sound);
      const own = findings(planted).filter((f) => f.code === code);
      expect(own.map((f) => f.sentence).join(' ')).toContain(says);
      expect(codes(near(sound))).not.toContain(code);
      // Every mend of it puts it right, and nothing else wrong.
      const before = new Set(findings(planted).map(groundOf));
      for (const finding of own.filter((f) => f.sentence.includes(says)))
        for (const mend of finding.mends) {
          const after = findings(pressed(planted, mend));
          expect(after.map(groundOf)).not.toContain(groundOf(finding));
          // A switch that was one too far may now say what another one says: that is told, and is no fault of the mend.
          const fresh = after.filter((f) => f.code !== 'double' && !before.has(groundOf(f)));
          expect(fresh.map((f) => f.sentence)).toEqual([]);
        }
    },
  );

  it('lets the second of two tracks go by a value where the scene arms by values, and keeps the others', () => {
    const [bow, reeds, voice] = ['Bow', 'Reeds', 'Voice'].map((name) => fn('Deckhouse', `Arm ${name}`).id);
    const arms = (id: string | undefined) => ({ functionId: id ?? '', value: 1, way: null });
    const planted = withScene('Low Water', 'Verse', (s) => ({
      ...s,
      armedFunctionIds: null,
      values: [arms(voice), arms(bow), arms(reeds)],
    }))(sound);
    const [finding] = findings(planted).filter((f) => f.code === 'two-armed');
    const mended = pressed(planted, finding!.mends[0]!).songs.find((s) => s.name === 'Low Water')!;
    const verse = mended.scenes.find((s) => s.name === 'Verse')!;
    expect(verse.values).toEqual([arms(voice), arms(bow), { ...arms(reeds), value: 0 }]);
    expect(verse.armedFunctionIds).toBeNull();
  });

  it('shortens a glide to its part, in its own unit and curve', () => {
    const planted = withScene('Slow Ferry', 'Chorus', (s) => ({ ...s, transition: glide(33, 'beats') }))(
      sound,
    );
    const [finding] = findings(planted).filter((f) => f.code === 'glide-too-long');
    const mended = pressed(planted, finding!.mends[0]!).songs.find((s) => s.name === 'Slow Ferry')!;
    expect(mended.scenes.find((s) => s.name === 'Chorus')!.transition).toEqual(glide(32, 'beats'));
  });

  it('knows what a board that works by itself has stored', () => {
    const own = alone(sound);
    const preset = own.presets.find((p) => p.id === plank.presetId)!;
    const board = own.rig.boards.find((b) => b.id === plank.id)!;
    const bytes = memoryBytes(memoryOf(own.rig, board, preset).memory);
    const states = (stored: Uint8Array | 'unknown' | null) => [
      ...notStoredIn(own.rig, own.presets, [{ boardId: plank.id, stored }]),
    ];
    expect(states(bytes)).toEqual([]);
    expect(states(bytes.with(20, (bytes[20]! + 1) % 128))).toEqual([[plank.id, 'differs']]);
    expect(states(bytes.slice(1))).toEqual([[plank.id, 'differs']]);
    expect([states('unknown'), states(null)]).toEqual([[[plank.id, 'unknown']], [[plank.id, 'unknown']]]);
    // The other board is played by this application.
    expect([...notStoredIn(sound.rig, sound.presets, [])]).toEqual([]);
  });
});
