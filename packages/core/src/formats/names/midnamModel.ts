import {
  PLAIN_FUNCTION,
  soundValue,
  type ChartTemplate,
  type Drive,
  type FunctionShape,
  type SoundName,
  programText,
  sentValue,
  type ProgramCounting,
} from '../../gear';
import { CONTROLLER, join14, split14 } from '../../midi';
import { lastOf, nth } from '../../sure';

/** What a MIDI name document says of one device: names, nothing of settle times, remarks or machine control. */
export type MidnamDocument = {
  readonly author: string;
  readonly manufacturer: string;
  readonly models: readonly string[];
  readonly banks: readonly MidnamBank[];
  readonly noteLists: readonly MidnamNotes[];
  readonly controlLists: readonly MidnamControls[];
};

/** A bank and what selects it; `control` and `value` 0–127. */
export type MidnamBank = {
  readonly name: string;
  readonly commands: readonly { readonly control: number; readonly value: number }[];
  readonly patches: readonly MidnamPatch[];
};
/** `number` is what the device shows, `program` 0–127 what is sent. */
export type MidnamPatch = { readonly number: string; readonly name: string; readonly program: number };
export type MidnamNotes = {
  readonly name: string;
  readonly notes: readonly { readonly number: number; readonly name: string }[];
};
export type MidnamControls = { readonly name: string; readonly controls: readonly MidnamControl[] };
/** `number` is 0–127, for 14-bit 0–31, for parameters 0–16383. */
export type MidnamControl = {
  readonly type: keyof typeof CONTROL_TYPES;
  readonly number: number;
  readonly name: string;
  readonly values: {
    readonly min: number;
    readonly max: number;
    readonly names: readonly { readonly number: number; readonly name: string }[];
  } | null;
};

/** How the document type definition spells the kinds of control. Source: MIDI Name Document DTD 1.0. */
export const CONTROL_TYPES = { '7bit': '7bit', '14bit': '14bit', RPN: 'RPN', NRPN: 'NRPN' } as const;

/** What of a chart a name document can hold: programs, notes and controllers, grouped as in the chart. */
export function midnamOfChart(
  chart: readonly ChartTemplate[],
  about: { readonly manufacturer: string; readonly model: string } & ProgramCounting,
): MidnamDocument {
  const banks: MidnamBank[] = [];
  const noteGroups = new Map<string, { number: number; name: string }[]>();
  const controlGroups = new Map<string, MidnamControl[]>();
  for (const fn of chart) {
    const { drive, shape } = fn;
    if (drive.kind === 'program' && shape.kind === 'program')
      banks.push({
        name: fn.name,
        commands: bankCommands(drive.bank),
        patches: shape.names.map(({ program, name }) => ({
          number: programText(about, program),
          name,
          program,
        })),
      });
    else if (shape.kind === 'sound') banks.push(...banksOfSounds(fn.name, shape.names, about));
    else if (drive.kind === 'note')
      append(noteGroups, fn.group || 'Notes', { number: drive.note, name: fn.name });
    else {
      const control = controlOf(fn);
      if (control) append(controlGroups, fn.group || 'Controllers', control);
    }
  }
  return {
    author: '',
    manufacturer: about.manufacturer,
    models: [about.model],
    banks,
    noteLists: [...noteGroups].map(([name, notes]) => ({ name, notes })),
    controlLists: [...controlGroups].map(([name, controls]) => ({ name, controls })),
  };
}

/** The chart rows that a name document describes; names that are there already get a number behind them. */
export function chartOfMidnam(document: MidnamDocument): ChartTemplate[] {
  const taken = new Map<string, number>();
  // Several banks of one device are one thing: a program of another bank takes the place of the one before.
  const banked = document.banks.filter((bank) => bankOf(bank) !== null);
  const row = (
    part: Pick<ChartTemplate, 'name' | 'group'> & { drive: Drive; shape: FunctionShape },
  ): ChartTemplate => ({ ...PLAIN_FUNCTION, ...part, name: freshName(part.name, taken) });
  return [
    ...(banked.length > 1
      ? [row({ name: 'Sound', group: 'Programs', drive: { kind: 'sound' }, shape: soundsOf(banked) })]
      : []),
    ...document.banks
      .filter((bank) => banked.length < 2 || !banked.includes(bank))
      .map((bank) =>
        row({
          name: bank.name || 'Program',
          group: 'Programs',
          drive: { kind: 'program', bank: bankOf(bank) },
          shape: {
            kind: 'program',
            names: firstOfEach(bank.patches, (p) => p.program).map(({ program, name }) => ({
              program,
              name,
            })),
          },
        }),
      ),
    ...document.noteLists.flatMap((list) =>
      list.notes.map((note) =>
        row({
          name: note.name || `Note ${note.number}`,
          group: list.name,
          drive: { kind: 'note', note: note.number },
          shape: { kind: 'trigger', sent: 127 },
        }),
      ),
    ),
    ...document.controlLists.flatMap((list) =>
      list.controls.map((control) =>
        row({
          name: control.name || `${control.type} ${control.number}`,
          group: list.name,
          drive: driveOf(control),
          shape: shapeOf(control),
        }),
      ),
    ),
  ];
}

/** The sounds of several banks in one list; the first name of each counts. */
const soundsOf = (banks: readonly MidnamBank[]): FunctionShape => ({
  kind: 'sound',
  names: firstOfEach(
    banks.flatMap((bank) =>
      bank.patches.map(({ program, name }) => ({ bank: bankOf(bank) ?? 0, program, name })),
    ),
    soundValue,
  ),
});

function banksOfSounds(name: string, sounds: readonly SoundName[], about: ProgramCounting): MidnamBank[] {
  const numbers = firstOfEach(
    sounds.map((s) => s.bank),
    (bank) => bank,
  );
  return numbers.map((bank) => ({
    name: `${name} ${bank >> 7}/${bank & 127}`,
    commands: bankCommands(bank),
    patches: sounds
      .filter((s) => s.bank === bank)
      .map((s) => ({ number: programText(about, s.program), name: s.name, program: s.program })),
  }));
}

function controlOf({ name, drive, shape }: ChartTemplate): MidnamControl | null {
  const head = controlHead(drive);
  if (!head) return null;
  switch (shape.kind) {
    case 'range':
      return { ...head, name, values: { min: shape.min, max: shape.max, names: [] } };
    case 'switch': {
      const names = [
        { number: shape.off, name: 'off' },
        { number: shape.on, name: 'on' },
      ];
      return {
        ...head,
        name,
        values: { min: Math.min(shape.off, shape.on), max: Math.max(shape.off, shape.on), names },
      };
    }
    case 'choice': {
      const names = shape.labels.map((label, i) => ({
        number: sentValue(shape, shape.first + i),
        name: label,
      }));
      return { ...head, name, values: { min: nth(names, 0).number, max: lastOf(names).number, names } };
    }
    default:
      return { ...head, name, values: null };
  }
}

function controlHead(drive: Drive): { type: MidnamControl['type']; number: number } | null {
  switch (drive.kind) {
    case 'controller':
      return { type: '7bit', number: drive.controller };
    case 'controller-14':
      return { type: '14bit', number: drive.controller };
    case 'parameter':
      return { type: drive.registered ? 'RPN' : 'NRPN', number: drive.parameter };
    default:
      return null;
  }
}

function driveOf({ type, number, values }: MidnamControl): Drive {
  if (type === '7bit') return { kind: 'controller', controller: number };
  if (type === '14bit') return { kind: 'controller-14', controller: number };
  return {
    kind: 'parameter',
    registered: type === 'RPN',
    parameter: number,
    bits: (values?.max ?? 127) > 127 ? 14 : 7,
  };
}

/** Two named values off and on are a switch, names of the lowest, the highest and some between a choice, all else a range. */
function shapeOf({ type, values }: MidnamControl): FunctionShape {
  const limit = type === '14bit' ? 16383 : 127;
  if (!values) return { kind: 'range', min: 0, max: limit, shownFrom: 0 };
  const { min, max, names } = values;
  const called = (word: string) => names.find((n) => n.name.toLowerCase() === word)?.number;
  const [off, on] = [called('off'), called('on')];
  if (type !== '14bit' && names.length === 2 && off !== undefined && on !== undefined && off !== on)
    return { kind: 'switch', off, on };
  const sent = names.map((n) => n.number);
  const [first, last] = [sent[0] ?? 0, sent.at(-1) ?? 0];
  const isRising =
    names.length > 0 && names.length <= 128 && sent.every((n, i) => i === 0 || n > nth(sent, i - 1));
  if (type !== '14bit' && isRising && first === min && last === max) {
    const choice = { kind: 'choice', shownFrom: 1, labels: names.map((n) => n.name) } as const;
    return last - first === names.length - 1 ? { ...choice, first } : { ...choice, first: 0, sent };
  }
  return { kind: 'range', min, max, shownFrom: min };
}

const bankCommands = (bank: number | null): MidnamBank['commands'] => {
  if (bank === null) return [];
  const { msb, lsb } = split14(bank);
  return [
    { control: CONTROLLER.bankMsb, value: msb },
    { control: CONTROLLER.bankLsb, value: lsb },
  ];
};

function bankOf({ commands }: MidnamBank): number | null {
  const value = (control: number) => commands.find((c) => c.control === control)?.value;
  const [msb, lsb] = [value(CONTROLLER.bankMsb), value(CONTROLLER.bankLsb)];
  return msb === undefined && lsb === undefined ? null : join14(msb ?? 0, lsb ?? 0);
}

/** @param taken names in use, each with the number that was tried for it last: thousands may have one name. */
function freshName(wanted: string, taken: Map<string, number>): string {
  let name = wanted;
  let i = taken.get(wanted.toLowerCase()) ?? 1;
  while (taken.has(name.toLowerCase())) name = `${wanted} (${++i})`;
  taken.set(wanted.toLowerCase(), i);
  taken.set(name.toLowerCase(), 1);
  return name;
}

function firstOfEach<T>(list: readonly T[], keyOf: (item: T) => unknown): T[] {
  const seen = new Set<unknown>();
  return list.filter((item) => !seen.has(keyOf(item)) && seen.add(keyOf(item)));
}

function append<V>(map: Map<string, V[]>, key: string, value: V): void {
  const list = map.get(key);
  if (list) list.push(value);
  else map.set(key, [value]);
}
