import {
  type Device,
  PLAIN_DEVICE,
  PLAIN_FUNCTION,
  PLAIN_PORT,
  type ChartFunction,
  type ChartTemplate,
} from '@idle-step/core/gear';
import type { FullRig } from '@idle-step/core/routing';
import { PLAIN_BOARD, PLAIN_CONTROL } from '@idle-step/core/floor';
import { looper, mixer, stringProcessor, trackHost } from '@idle-step/core/standins';
import {
  demoId,
  DEMO_PORT as PORT,
  PLANK_BOARD_ID,
  PLANK_PRESET_ID,
  RIG_ID,
  TWIG_BOARD_ID,
  TWIG_PRESET_ID,
} from './ids';
import { demoRouting } from './routes';
import { nth } from '@idle-step/core/sure';

/** The cellist-singer's rig. All gear is invented. */

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
/** What can be switched is off at power-on. */
const row = (template: ChartTemplate): ChartFunction => ({
  ...template,
  powerOn: template.powerOn ?? (template.shape.kind === 'switch' ? 0 : null),
  id: demoId(4, ++nextFunction),
});

const KEPT = 'kept by the panel';
const FREE = 'free';
const PANEL_KNOBS = 3;
const PANEL_FROM = 102;

const kelplineChart = [
  ...stringProcessor.chart.map((template) =>
    row({
      ...template,
      group:
        template.shape.kind === 'switch' ? 'Blocks' : template.shape.kind === 'range' ? 'Knobs' : 'Sounds',
      ...(template.shape.kind === 'program' && {
        shape: { kind: 'program', names: PROGRAMS.map(([program, name]) => ({ program, name })) },
      }),
    }),
  ),
];

/** Rows that only the setting of the front panel brings, written after all others so that identifiers stay. */
const panelRows = () =>
  Array.from({ length: PANEL_KNOBS }, (_, i) =>
    row({
      ...PLAIN_FUNCTION,
      name: `Panel knob ${i + 1}`,
      group: 'Front panel',
      drive: { kind: 'controller', controller: PANEL_FROM + i },
      shape: { kind: 'range', min: 0, max: 127, shownFrom: 0 },
      under: KEPT,
      reserved: true,
      remark: 'the front panel sends and hears it',
    }),
  );

/** What each track of the host listens to. */
const TRACK_INPUTS: Readonly<Record<string, string>> = {
  Bow: 'cello',
  Voice: 'voice',
  Hum: 'keys',
  Reeds: 'cello',
  Bells: 'keys',
};

const deckhouseChart = trackHost.chart.map((template) => {
  const numbered = /^(.*) (\d)$/.exec(template.name);
  const track = numbered ? TRACK_NAMES[Number(numbered[2]) - 1] : undefined;
  return row({
    ...template,
    name: numbered && track ? `${nth(numbered, 1)} ${track}` : template.name,
    arms: template.arms && track ? track : null,
    input: template.arms && track ? (TRACK_INPUTS[track] ?? '') : '',
  });
});

type DeviceHead = Pick<Device, 'name' | 'description' | 'role' | 'mark' | 'ports'> & Partial<Device>;
let nextDevice = 0;
const device = (head: DeviceHead): Device => ({ id: demoId(2, ++nextDevice), ...PLAIN_DEVICE, ...head });

type PortDoc = Device['ports'][number];
const port = (
  id: string,
  name: string,
  direction: PortDoc['direction'],
  link: PortDoc['link'],
  part: Partial<PortDoc> = {},
): PortDoc => ({ id, name, direction, link, ...PLAIN_PORT, ...part });
const AT_COMPUTER = { atComputer: true };
const step = (n: number, text: string) => ({ id: demoId(20, n), text, done: false });

const plank = device({
  name: 'Plank 10',
  description: 'Foot board, 10 switches, 2 pedals',
  place: 'before the feet',
  role: 'controller',
  mark: { shape: 'cross', colour: 'coral' },
  channel: 15,
  ports: [port(PORT.plankOut, 'Out', 'out', 'din')],
});

const twig = device({
  name: 'Twig 4',
  description: 'Small board, 4 switches',
  place: 'beside the endpin',
  role: 'controller',
  mark: { shape: 'chevron', colour: 'clay' },
  channel: 14,
  ports: [port(PORT.twigUsb, 'USB', 'out', 'usb', AT_COMPUTER)],
});

const crossbar = device({
  name: 'Crossbar',
  description: 'Interface',
  place: 'left of the chair',
  startUp: [step(1, 'Plug it in before the laptop wakes up')],
  role: 'carrier',
  mark: { shape: 'dot', colour: 'slate' },
  channel: 0,
  ports: [
    port(PORT.crossbarIn1, 'In 1', 'in', 'din', AT_COMPUTER),
    port(PORT.crossbarIn2, 'In 2', 'in', 'din', AT_COMPUTER),
    port(PORT.crossbarOutA, 'Out A', 'out', 'din', AT_COMPUTER),
    port(PORT.crossbarOutB, 'Out B', 'out', 'din', AT_COMPUTER),
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
  place: 'on the amplifier',
  setting: { name: 'Front panel numbers', options: [KEPT, FREE], inForce: KEPT },
  startUp: [
    step(2, 'Hold Snapshot 1 while switching it on: it wakes on channel 3'),
    step(3, 'Wait until the display shows a program number'),
  ],
  ports: [port(PORT.kelplineIn, 'In', 'in', 'din'), port(PORT.kelplineThru, 'Thru', 'thru', 'din')],
  chart: [...kelplineChart, ...panelRows()],
});

const deckhouse = device({
  name: 'Deckhouse',
  description: 'Track host on the laptop',
  place: 'music stand',
  startUp: [step(4, 'Wireless on first, then the track host'), step(5, 'Open the tour session')],
  role: 'receiver',
  mark: { shape: 'corner', colour: 'sky' },
  channel: 0,
  listens: { kind: 'several', channels: [2, 4] },
  standIn: 'track-host',
  ports: [port(PORT.deckhouseIn, 'Host in', 'in', 'virtual', AT_COMPUTER)],
  chart: deckhouseChart,
});

const range = (name: string, controller: number, part: Partial<ChartTemplate> = {}) =>
  row({
    ...PLAIN_FUNCTION,
    name,
    drive: { kind: 'controller', controller },
    shape: { kind: 'range', min: 0, max: 127, shownFrom: 0 },
    ...part,
  });
const trigger = (name: string, controller: number, sent: number) =>
  range(name, controller, { shape: { kind: 'trigger', sent } });

const bollard = device({
  name: 'Bollard',
  description: 'Hub with USB host',
  role: 'carrier',
  place: 'under the chair',
  mark: { shape: 'box', colour: 'slate' },
  ports: [
    port(PORT.bollardHost, 'USB 2', 'in', 'usb', { isUsbHost: true }),
    port(PORT.bollardUsb, 'USB 1', 'out', 'usb', AT_COMPUTER),
  ],
});

const tiller = device({
  name: 'Tiller 25',
  description: 'Short keyboard',
  role: 'controller',
  place: 'in the van',
  mark: { shape: 'pair', colour: 'coral' },
  channel: 13,
  away: true,
  ports: [port(PORT.tillerUsb, 'USB', 'out', 'usb')],
});

const roundel = device({
  name: 'Roundel',
  description: 'Looper',
  role: 'receiver',
  place: 'on the amplifier',
  mark: { shape: 'ring', colour: 'violet' },
  channel: 4,
  standIn: 'looper',
  extraChannels: [{ name: 'the track selected now', channel: 5 }],
  ports: [port(PORT.roundelIn, 'In', 'in', 'din')],
  startUp: [step(6, 'Switch it on after Kelpline, or it misses the thru')],
  chart: [
    ...[1, 2, 3, 4].map((n) => trigger(`Record ${n}`, 26 + n, 127)),
    trigger('All start', 40, 127),
    trigger('All stop', 41, 127),
    range('Feedback', 11, { extraChannel: 'the track selected now', powerOn: 127 }),
  ],
});

const STRIPS = ['Cello', 'Voice', 'Loops', 'Laptop'];
const SLUICE_CHANNEL = 8;
const sluice = device({
  name: 'Sluice',
  description: 'Mixer',
  role: 'receiver',
  place: 'stage box',
  mark: { shape: 'triangle', colour: 'teal' },
  channel: SLUICE_CHANNEL,
  standIn: 'mixer',
  listens: { kind: 'parts', count: STRIPS.length - 1 },
  ports: [port(PORT.sluiceIn, 'In', 'in', 'din'), port(PORT.sluiceThru, 'Thru', 'thru', 'din')],
  chart: STRIPS.slice(0, 3).flatMap((strip, i) => [
    range(`${strip} level`, 7, { group: strip, channel: SLUICE_CHANNEL + i, powerOn: 100 }),
    range(`${strip} pan`, 10, {
      group: strip,
      channel: SLUICE_CHANNEL + i,
      powerOn: 64,
      shape: { kind: 'range', min: 0, max: 127, shownFrom: -64 },
    }),
  ]),
});

const LOOKS = ['Blackout', 'Amber', 'Dawn', 'River', 'Lamp', 'Storm'];
const lamplighter = device({
  name: 'Lamplighter',
  description: 'Lights',
  role: 'receiver',
  place: 'stage box',
  mark: { shape: 'bar', colour: 'sun' },
  channel: 11,
  programsShownFrom: 1,
  standIn: 'lights',
  ports: [port(PORT.lamplighterIn, 'In', 'in', 'din')],
  chart: [
    row({
      ...PLAIN_FUNCTION,
      name: 'Look',
      drive: { kind: 'program', bank: null },
      shape: { kind: 'program', names: LOOKS.map((name, program) => ({ program, name })) },
    }),
    range('Master', 7, { powerOn: 0 }),
  ],
});

const PLANK_COLUMNS = 5;
const plankControls: FullRig['boards'][number]['controls'] = [
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
      ...PLAIN_CONTROL,
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
    ...PLAIN_CONTROL,
  })),
];

const twigControls: FullRig['boards'][number]['controls'] = Array.from({ length: 4 }, (_, i) => ({
  id: demoId(6, 21 + i),
  name: `switch ${i + 1}`,
  kind: 'footswitch' as const,
  xMm: 11 + i * 116,
  yMm: 14,
  widthMm: 112,
  heightMm: 116,
  sends: { kind: 'note' as const, number: 36 + i },
  ...PLAIN_CONTROL,
}));

const BOARD = {
  ...PLAIN_BOARD,
  can: {
    ...PLAIN_BOARD.can,
    gestures: [...PLAIN_BOARD.can.gestures],
    messages: [...PLAIN_BOARD.can.messages],
  },
};

/** Rows of the ready chart that a device has not got yet, written last so that identifiers stay. */
const withReadyRows = (
  device: Device,
  ready: readonly ChartTemplate[],
  rows: (template: ChartTemplate) => readonly ChartTemplate[] = (template) => [template],
): Device => {
  const has = new Set(device.chart.map((f) => f.name.toLowerCase()));
  const missing = ready.flatMap(rows).filter((t) => !has.has(t.name.toLowerCase()));
  return { ...device, chart: [...device.chart, ...missing.map(row)] };
};

/** What the mixer has for each strip stands once for each of those that are named. */
const stripRows = (template: ChartTemplate): readonly ChartTemplate[] =>
  ['Level', 'Pan', 'Mute', 'Solo'].includes(template.name)
    ? STRIPS.slice(0, 3).map((strip, i) => ({
        ...template,
        name: `${strip} ${template.name.toLowerCase()}`,
        group: strip,
        channel: SLUICE_CHANNEL + i,
      }))
    : [template];

export const demoRig: FullRig = {
  id: RIG_ID,
  name: 'River tour',
  middleC: 3,
  stepGuardMs: 200,
  devices: [
    plank,
    twig,
    tiller,
    crossbar,
    bollard,
    kelpline,
    withReadyRows(roundel, looper.chart),
    withReadyRows(sluice, mixer.chart, stripRows),
    lamplighter,
    deckhouse,
  ],
  cables: [
    { id: demoId(8, 1), fromPortId: PORT.plankOut, toPortId: PORT.crossbarIn1 },
    { id: demoId(8, 2), fromPortId: PORT.crossbarOutA, toPortId: PORT.kelplineIn },
    { id: demoId(8, 3), fromPortId: PORT.kelplineThru, toPortId: PORT.roundelIn },
    { id: demoId(8, 4), fromPortId: PORT.crossbarOutB, toPortId: PORT.sluiceIn },
    { id: demoId(8, 5), fromPortId: PORT.sluiceThru, toPortId: PORT.lamplighterIn },
    { id: demoId(8, 6), fromPortId: PORT.tillerUsb, toPortId: PORT.bollardHost },
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
      ...BOARD,
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
      ...BOARD,
      controls: twigControls,
    },
  ],
  routing: demoRouting,
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
