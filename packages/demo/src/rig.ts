import type { DeviceDoc, RigDoc } from '@idle-step/contract';
import type { ChartFunction } from '@idle-step/core/gear';
import { stringProcessor, trackHost, type ChartTemplate } from '@idle-step/core/standins';
import { demoId, PLANK_BOARD_ID, PLANK_PRESET_ID, RIG_ID, TWIG_BOARD_ID, TWIG_PRESET_ID } from './ids';

/** The cellist-singer's rig. All gear is invented. */

const PORT = {
  plankOut: demoId(3, 1),
  twigUsb: demoId(3, 2),
  crossbarIn1: demoId(3, 3),
  crossbarIn2: demoId(3, 4),
  crossbarOutA: demoId(3, 5),
  crossbarOutB: demoId(3, 6),
  kelplineIn: demoId(3, 7),
  kelplineThru: demoId(3, 8),
  deckhouseIn: demoId(3, 9),
} as const;

export const DEMO_PORT = PORT;

export const TRACK_NAMES = ['Bow', 'Voice', 'Hum', 'Reeds', 'Bells', 'Field', 'Click', 'Bounce'] as const;

const PROGRAMS: readonly [number, string][] = [
  [3, 'Bare'],
  [8, 'Pluck near'],
  [13, 'Bow wide'],
  [20, 'Low hum'],
  [27, 'Fog horn'],
  [40, 'Glass reed'],
];

let nextFunction = 0;
const row = (template: ChartTemplate): ChartFunction => ({ ...template, id: demoId(4, ++nextFunction) });

const kelplineChart = stringProcessor.chart.map((template) =>
  row(
    template.shape.kind === 'program'
      ? {
          ...template,
          shape: { kind: 'program', names: PROGRAMS.map(([program, name]) => ({ program, name })) },
        }
      : template,
  ),
);

const deckhouseChart = trackHost.chart.map((template) => {
  const numbered = /^(.*) (\d)$/.exec(template.name);
  const track = numbered ? TRACK_NAMES[Number(numbered[2]) - 1] : undefined;
  return row({
    ...template,
    name: numbered && track ? `${numbered[1]!} ${track}` : template.name,
    arms: template.arms && track ? track : null,
  });
});

type DeviceHead = Pick<DeviceDoc, 'name' | 'description' | 'role' | 'mark' | 'channel' | 'ports'> &
  Partial<DeviceDoc>;
let nextDevice = 0;
const device = (head: DeviceHead): DeviceDoc => ({
  id: demoId(2, ++nextDevice),
  programsShownFrom: 0,
  standIn: null,
  away: false,
  chart: [],
  ...head,
});

const plank = device({
  name: 'Plank 10',
  description: 'Foot board, 10 switches, 2 pedals',
  role: 'controller',
  mark: { shape: 'cross', colour: 'coral' },
  channel: 15,
  ports: [{ id: PORT.plankOut, name: 'Out', direction: 'out', link: 'din', atComputer: false }],
});

const twig = device({
  name: 'Twig 4',
  description: 'Small board beside the endpin',
  role: 'controller',
  mark: { shape: 'chevron', colour: 'clay' },
  channel: 14,
  ports: [{ id: PORT.twigUsb, name: 'USB', direction: 'out', link: 'usb', atComputer: true }],
});

const crossbar = device({
  name: 'Crossbar',
  description: 'Interface',
  role: 'carrier',
  mark: { shape: 'dot', colour: 'slate' },
  channel: 0,
  ports: [
    { id: PORT.crossbarIn1, name: 'In 1', direction: 'in', link: 'din', atComputer: true },
    { id: PORT.crossbarIn2, name: 'In 2', direction: 'in', link: 'din', atComputer: true },
    { id: PORT.crossbarOutA, name: 'Out A', direction: 'out', link: 'din', atComputer: true },
    { id: PORT.crossbarOutB, name: 'Out B', direction: 'out', link: 'din', atComputer: true },
  ],
});

const kelpline = device({
  name: 'Kelpline',
  description: 'String processor',
  role: 'receiver',
  mark: { shape: 'tee', colour: 'leaf' },
  channel: 2,
  programsShownFrom: 1,
  standIn: 'string-processor',
  ports: [
    { id: PORT.kelplineIn, name: 'In', direction: 'in', link: 'din', atComputer: false },
    { id: PORT.kelplineThru, name: 'Thru', direction: 'thru', link: 'din', atComputer: false },
  ],
  chart: kelplineChart as DeviceDoc['chart'],
});

const deckhouse = device({
  name: 'Deckhouse',
  description: 'Track host on the laptop',
  role: 'receiver',
  mark: { shape: 'corner', colour: 'sky' },
  channel: 0,
  standIn: 'track-host',
  ports: [{ id: PORT.deckhouseIn, name: 'Host in', direction: 'in', link: 'virtual', atComputer: true }],
  chart: deckhouseChart as DeviceDoc['chart'],
});

const PLANK_COLUMNS = 5;
const plankControls: RigDoc['boards'][number]['controls'] = [
  ...(['far', 'near'] as const).flatMap((side, rowIndex) =>
    Array.from({ length: PLANK_COLUMNS }, (_, column) => ({
      id: demoId(6, rowIndex * PLANK_COLUMNS + column + 1),
      name: `${side} ${column + 1}`,
      kind: 'footswitch' as const,
      xMm: 16 + column * 136,
      yMm: 14 + rowIndex * 122,
      widthMm: 130,
      heightMm: 114,
      sends: { kind: 'controller' as const, number: (side === 'far' ? 36 : 31) + column },
    })),
  ),
  ...[0, 1].map((i) => ({
    id: demoId(6, 11 + i),
    name: `pedal ${i + 1}`,
    kind: 'expression-pedal' as const,
    xMm: 704 + i * 86,
    yMm: 14,
    widthMm: 74,
    heightMm: 236,
    sends: { kind: 'controller' as const, number: 4 + i },
  })),
];

const twigControls: RigDoc['boards'][number]['controls'] = Array.from({ length: 4 }, (_, i) => ({
  id: demoId(6, 21 + i),
  name: `switch ${i + 1}`,
  kind: 'footswitch' as const,
  xMm: 11 + i * 116,
  yMm: 14,
  widthMm: 112,
  heightMm: 116,
  sends: { kind: 'note' as const, number: 36 + i },
}));

export const demoRig: RigDoc = {
  id: RIG_ID,
  name: 'River tour',
  middleC: 3,
  devices: [plank, twig, crossbar, kelpline, deckhouse],
  cables: [
    { id: demoId(8, 1), fromPortId: PORT.plankOut, toPortId: PORT.crossbarIn1 },
    { id: demoId(8, 2), fromPortId: PORT.crossbarOutA, toPortId: PORT.kelplineIn },
  ],
  boards: [
    {
      id: PLANK_BOARD_ID,
      deviceId: plank.id,
      presetId: PLANK_PRESET_ID,
      widthMm: 880,
      heightMm: 264,
      xMm: 0,
      yMm: 0,
      controls: plankControls,
    },
    {
      id: TWIG_BOARD_ID,
      deviceId: twig.id,
      presetId: TWIG_PRESET_ID,
      widthMm: 486,
      heightMm: 144,
      xMm: 1430,
      yMm: 120,
      controls: twigControls,
    },
  ],
};

/** The identifier of a function, by the names that people see. Throws when there is none: a slip in the demo. */
export function demoFunction(deviceName: string, functionName: string): string {
  const found = demoRig.devices
    .find((d) => d.name === deviceName)
    ?.chart.find((f) => f.name === functionName);
  if (!found) throw new Error(`The demo has no ${deviceName} ${functionName}`);
  return found.id;
}

/** The identifier of a control, by its place. */
export function demoControl(name: string): string {
  const found = [...plankControls, ...twigControls].find((c) => c.name === name);
  if (!found) throw new Error(`The demo has no control ${name}`);
  return found.id;
}
