import { controllerName, isReservedByStandard, TRANSPORT, type TransportCommand } from '../../midi';
import { PLAIN_FUNCTION, type ChartFunction } from '../charts/chartFunction';
import { GENERAL_MIDI_PROGRAMS } from './generalMidi';
import { keysOf, there } from '../../sure';

export { GENERAL_MIDI_PROGRAMS } from './generalMidi';

/** A chart row before it belongs to a device. */
export type ChartTemplate = Omit<ChartFunction, 'id'>;

/** A chart that can be put into a device with one press. */
export type ReadyChart = {
  readonly key: 'general-midi' | 'controllers' | 'machine-control';
  readonly title: string;
  /** The published document behind it. */
  readonly source: string;
  readonly rows: readonly ChartTemplate[];
};

/** Tracks that the ready machine control chart arms. */
const MACHINE_TRACKS = 16;
/** Controllers that are a pedal or a switch: 64 and above is on. */
const SWITCHED = [64, 65, 66, 67, 68, 69];
/** What General MIDI 1 asks every instrument to answer to, besides programs and notes. */
const GENERAL_MIDI_CONTROLLERS = [1, 7, 10, 11, 64];

const row = (
  part: Pick<ChartTemplate, 'name' | 'drive' | 'shape'> & Partial<ChartTemplate>,
): ChartTemplate => ({
  ...PLAIN_FUNCTION,
  ...part,
});

function controllerRow(controller: number, group: string): ChartTemplate {
  const name = there(controllerName(controller));
  return row({
    name,
    group,
    drive: { kind: 'controller', controller },
    shape: SWITCHED.includes(controller)
      ? { kind: 'switch', off: 0, on: 127 }
      : { kind: 'range', min: 0, max: 127, shownFrom: 0 },
    powerOn: powerOnOf(controller),
  });
}

/** Source: General MIDI System Level 1, "Default settings", volume 100, expression 127, pan 64. */
function powerOnOf(controller: number): number | null {
  const known: Record<number, number> = { 1: 0, 7: 100, 10: 64, 11: 127 };
  return SWITCHED.includes(controller) ? 0 : (known[controller] ?? null);
}

const transportName = (command: TransportCommand): string =>
  command.charAt(0).toUpperCase() + command.slice(1).replaceAll('-', ' ');

/** Charts made from published standards. */
export const READY_CHARTS: readonly ReadyChart[] = [
  {
    key: 'general-midi',
    title: 'General MIDI 1 instrument',
    source: 'General MIDI System Level 1',
    rows: [
      row({
        name: 'Program',
        group: 'General MIDI',
        drive: { kind: 'program', bank: null },
        shape: { kind: 'program', names: GENERAL_MIDI_PROGRAMS.map((name, program) => ({ program, name })) },
      }),
      ...GENERAL_MIDI_CONTROLLERS.map((controller) => controllerRow(controller, 'General MIDI')),
      row({
        name: 'Pitch bend',
        group: 'General MIDI',
        drive: { kind: 'pitch-bend' },
        shape: { kind: 'range', min: 0, max: 16383, shownFrom: -8192 },
        powerOn: 8192,
      }),
      row({
        name: 'Channel pressure',
        group: 'General MIDI',
        drive: { kind: 'channel-pressure' },
        shape: { kind: 'range', min: 0, max: 127, shownFrom: 0 },
        powerOn: 0,
      }),
    ],
  },
  {
    key: 'controllers',
    title: 'Standard controllers',
    source: 'MIDI 1.0 Detailed Specification, table III',
    rows: Array.from({ length: 96 }, (_, i) => i)
      .filter((n) => controllerName(n) !== null && !isReservedByStandard(n) && (n < 32 || n >= 64))
      .map((n) => controllerRow(n, 'Controllers')),
  },
  {
    key: 'machine-control',
    title: `Machine control: transport, and arming of ${MACHINE_TRACKS} tracks`,
    source: 'MIDI Machine Control, RP-013',
    rows: [
      ...keysOf(TRANSPORT).map((command) =>
        row({
          name: transportName(command),
          group: 'Transport',
          drive: { kind: 'transport', command },
          shape: { kind: 'trigger', sent: 127 },
        }),
      ),
      ...Array.from({ length: MACHINE_TRACKS }, (_, i) =>
        row({
          name: `Arm track ${i + 1}`,
          group: 'Arming',
          drive: { kind: 'record-ready', track: i + 1 },
          shape: { kind: 'switch', off: 0, on: 127 },
          arms: `Track ${i + 1}`,
        }),
      ),
    ],
  },
];
