import {
  ACTION_LISTS,
  CURVES,
  LIGHTS,
  PLAIN_ASSIGNMENT,
  PLAIN_CURVES,
  PLAIN_RESPONSE,
  TAKEOVERS,
  CONTROL_KINDS,
  type Action,
  type Assignment,
  type Bank,
  type BankTarget,
  type ControlGroup,
  type Feel,
  type LampRule,
  type MoveResponse,
  type Preset,
  type Sweep,
  type Touch,
} from '../floor';
import {
  BANK_SELECT_HABITS,
  parseTemplate,
  shapeMismatch,
  TAPE_COLOURS,
  type ChartFunction,
  type Device,
  type Drive,
  type FunctionShape,
} from '../gear';
import { TRANSPORT } from '../midi';
import { fail, ok, type Result } from '../result';
import { keysOf } from '../sure';
import {
  empty,
  fields,
  flag,
  fromBytes,
  list,
  oneOf,
  orNone,
  real,
  text,
  toBytes,
  upTo,
  usually,
  whole,
  word,
  type Codec,
} from './bytes';

/** A device that a board sends to, with the rows of its chart that it moves. */
export type MemoryDevice = Pick<Device, 'name' | 'channel' | 'listens' | 'bankSelect'> & {
  readonly chart: readonly Pick<
    ChartFunction,
    'name' | 'drive' | 'shape' | 'channel' | 'arms' | 'powerOn' | 'settleMs'
  >[];
};

/**
 * What stands in the memory of a board that works by itself: what it does, and what it has to know of the gear for that.
 * Things are called by their places, from 0: controls `c0`, devices `d0`, rows of all charts one after the other `r0`,
 * banks and then the pages of groups `p0`, groups `g0`. `docs/board-memory.md` has it byte by byte.
 */
export type BoardMemory = Pick<Preset, 'name' | 'banks' | 'groups' | 'feel'> & {
  /** The names of its controls, in their order. */
  readonly controls: readonly string[];
  /** A step that comes sooner after the same one does not count, in ms. */
  readonly stepGuardMs: number;
  readonly devices: readonly MemoryDevice[];
};

const place = (letter: string): Codec<string> => ({
  write: (into, id) => whole.write(into, Number(id.slice(1))),
  read: (from) => `${letter}${whole.read(from)}`,
});
const control = place('c');
const device = place('d');
const row = place('r');
const page = place('p');
const group = place('g');

const seven = upTo(127);
const colour = orNone(word(TAPE_COLOURS));
const plainCurve = word(PLAIN_CURVES);

const drive = oneOf<Drive>({
  controller: fields({ controller: seven }),
  'controller-14': fields({ controller: upTo(31) }),
  note: fields({ note: seven }),
  program: fields({ bank: orNone(upTo(16383)) }),
  sound: empty,
  parameter: fields({ registered: flag, parameter: upTo(16382), bits: word([7, 14] as const) }),
  'pitch-bend': empty,
  'channel-pressure': empty,
  sysex: fields({ template: text }),
  transport: fields({ command: word(keysOf(TRANSPORT)) }),
  'record-ready': fields({ track: whole }),
});

const shape = oneOf<FunctionShape>({
  trigger: fields({ sent: upTo(16383) }),
  switch: fields({ off: upTo(16383), on: upTo(16383) }),
  // What is shown for the ends matters to nobody but people.
  range: fields({ min: upTo(16383), max: upTo(16383), shownFrom: real }),
  choice: {
    write(into, { first, shownFrom, labels, sent }) {
      whole.write(into, first);
      real.write(into, shownFrom);
      list(text).write(into, labels);
      orNone(list(upTo(16383))).write(into, sent ?? null);
    },
    read(from) {
      const [first, shownFrom] = [whole.read(from), real.read(from)];
      const labels = list(text).read(from);
      const sent = orNone(list(upTo(16383))).read(from);
      return { first, shownFrom, labels, ...(sent ? { sent } : {}) };
    },
  },
  // The names of programs are for people too.
  program: { write: () => undefined, read: () => ({ names: [] }) },
  sound: { write: () => undefined, read: () => ({ names: [] }) },
});

const gear = list(
  fields<MemoryDevice>({
    name: text,
    channel: upTo(15),
    listens: oneOf<Device['listens']>({
      one: empty,
      omni: empty,
      several: fields({ channels: list(upTo(15)) }),
      parts: fields({ count: upTo(16) }),
    }),
    bankSelect: word(BANK_SELECT_HABITS),
    chart: list(
      fields<MemoryDevice['chart'][number]>({
        name: text,
        drive,
        shape,
        channel: orNone(upTo(15)),
        arms: orNone(text),
        powerOn: orNone(whole),
        settleMs: usually(0, real),
      }),
    ),
  }),
);

const target = oneOf<BankTarget>({ up: empty, down: empty, bank: fields({ bankId: page }) });

type Kept = Extract<
  Action,
  { kind: 'set' | 'toggle' | 'momentary' | 'step' | 'message' | 'raw' | 'clock' | 'bank' | 'page' }
>;
/** What a board does by itself, without what stands at each action; its port is the board's. */
type Body = Kept extends infer A
  ? A extends Kept
    ? Omit<A, 'id' | 'delay' | 'isOff' | 'every' | 'portId'>
    : never
  : never;

const body = oneOf<Body>({
  set: fields({ functionId: row, value: whole }),
  toggle: fields({ functionId: row }),
  momentary: fields({ functionId: row, down: whole, up: whole }),
  step: fields({
    functionId: row,
    values: list(whole),
    direction: word(['forward', 'back', 'reset'] as const),
    atEnd: word(['round', 'stop'] as const),
  }),
  message: fields({
    deviceId: device,
    channel: orNone(upTo(15)),
    send: word(['note', 'controller', 'program'] as const),
    number: seven,
    value: seven,
  }),
  raw: fields({ bytes: list(upTo(255)) }),
  clock: fields({ to: word(['start', 'continue', 'stop'] as const) }),
  bank: fields({ to: target }),
  page: fields({ groupId: group, to: target }),
});

/** Where the messages of `raw` and `clock` leave: by the board's own out. */
export const OWN_OUT = 'out';

const delay = orNone(fields({ amount: real, unit: word(['ms', 'beats'] as const) }));
const every = orNone(word(['odd', 'even'] as const));

/** An action gets its name when its place is known. */
const action: Codec<Action> = {
  write(into, value) {
    delay.write(into, value.delay ?? null);
    every.write(into, value.every ?? null);
    // `memoryOf` keeps no other kinds.
    body.write(into, value as Body);
  },
  read(from) {
    const [late, turn] = [delay.read(from), every.read(from)];
    const done = body.read(from);
    const at = done.kind === 'raw' || done.kind === 'clock' ? { portId: OWN_OUT } : {};
    // A body with its port and its name is an action.
    return {
      id: '',
      ...(late ? { delay: late } : {}),
      ...(turn ? { every: turn } : {}),
      ...done,
      ...at,
    } as Action;
  },
};

const point = fields({ x: real, y: real });
const moved = fields({
  from: whole,
  to: whole,
  invert: flag,
  curve: word(CURVES),
  points: list(point),
});
const plainMoved = fields({ deviceId: device, channel: orNone(upTo(15)), controller: seven });

const sweep: Codec<Sweep> = {
  write(into, value) {
    moved.write(into, value);
    flag.write(into, value.functionId === null);
    if (value.functionId === null) plainMoved.write(into, value);
    else row.write(into, value.functionId);
  },
  read(from) {
    const how = { id: '', ...moved.read(from) };
    return flag.read(from)
      ? { ...how, functionId: null, ...plainMoved.read(from) }
      : { ...how, functionId: row.read(from) };
  },
};

const response = fields<MoveResponse>({
  takeover: word(TAKEOVERS),
  slowStep: real,
  fastStep: real,
  fastPerS: real,
  growth: plainCurve,
  reverse: flag,
  wrap: flag,
  toeAt: real,
  heelAt: real,
  hysteresis: real,
});

const touchFields = {
  velocity: word(['played', 'fixed'] as const),
  fixed: seven,
  curve: plainCurve,
  pressure: word(['off', 'controller', 'channel', 'poly'] as const),
  controller: seven,
};
const touch = fields<Touch>(touchFields);

const lamp = oneOf<LampRule>({
  work: empty,
  switch: empty,
  function: fields({
    functionId: row,
    stops: list(fields({ from: whole, light: word(LIGHTS), colour, sends: orNone(seven) })),
  }),
});

const feel: Codec<Feel> = {
  write(into, value) {
    word(CONTROL_KINDS).write(into, value.kind);
    touch.write(into, value);
    orNone(lamp).write(into, value.lamp);
    orNone(flag).write(into, value.isFelt ?? null);
  },
  read(from) {
    const said = { kind: word(CONTROL_KINDS).read(from), ...touch.read(from), lamp: orNone(lamp).read(from) };
    const isFelt = orNone(flag).read(from);
    return isFelt === null ? said : { ...said, isFelt };
  },
};

const actions = list(action);
const assignment = fields<Assignment>({
  controlId: control,
  label: text,
  colour,
  remark: text,
  press: actions,
  release: actions,
  hold: actions,
  doublePress: actions,
  toe: actions,
  heel: actions,
  timing: usually(PLAIN_ASSIGNMENT.timing, fields({ holdMs: real, doubleMs: real, holdCancelsPress: flag })),
  sweeps: list(sweep),
  response: usually(PLAIN_RESPONSE, response),
  touch: orNone(touch),
  lamp: orNone(lamp),
});

/** A bank gets its name when its place is known. */
const bank: Codec<Bank> = {
  write(into, value) {
    bankFields.write(into, value);
  },
  read: (from) => ({ id: '', ...bankFields.read(from) }),
};
const bankFields = fields<Omit<Bank, 'id'>>({
  name: text,
  colour,
  remark: text,
  assignments: list(assignment),
});

const groupFields = fields<Omit<ControlGroup, 'id'>>({
  name: text,
  controlIds: list(control),
  pages: list(bank),
});
const ofGroup: Codec<ControlGroup> = {
  write: (into, value) => groupFields.write(into, value),
  read: (from) => ({ id: '', ...groupFields.read(from) }),
};

const whatIsKept = fields<BoardMemory>({
  name: text,
  controls: list(text),
  stepGuardMs: usually(0, real),
  devices: gear,
  banks: list(bank),
  groups: list(ofGroup),
  feel: list(feel),
});

/** `ISB` and the number of the format. */
const BEGINNING = [0x49, 0x53, 0x42, 1] as const;

/** The memory as bytes of 0–255. */
export const memoryBytes = (memory: BoardMemory): Uint8Array =>
  Uint8Array.from([...BEGINNING, ...toBytes(whatIsKept, memory)]);

/** A memory from its bytes, or a sentence that says at which byte it is none. */
export function readMemory(bytes: Uint8Array): Result<BoardMemory, string> {
  if (BEGINNING.some((byte, i) => bytes[i] !== byte))
    return fail('This is no memory of a board in the format of this application, or of another version.');
  const read = fromBytes(whatIsKept, bytes.subarray(BEGINNING.length));
  if (!read.ok) return read;
  const memory = named(read.value);
  const odd = oddIn(memory);
  return odd === null ? ok(memory) : fail(odd);
}

/** What has no name of its own in the bytes is called by its place. */
function named(memory: BoardMemory): BoardMemory {
  let pages = 0;
  const ofBank = (b: Bank): Bank => {
    const id = `p${pages++}`;
    return { ...b, id, assignments: b.assignments.map((a) => namedActions(a, id)) };
  };
  const banks = memory.banks.map(ofBank);
  return {
    ...memory,
    banks,
    groups: memory.groups.map((g, i) => ({ ...g, id: `g${i}`, pages: g.pages.map(ofBank) })),
  };
}

/** An assignment whose actions and sweeps are called by where they stand. */
export function namedActions(assignment: Assignment, pageId: string): Assignment {
  const at = `${pageId}/${assignment.controlId}`;
  const lists = ACTION_LISTS.map((name) => [
    name,
    assignment[name].map((a, i): Action => ({ ...a, id: `${at}/${name}${i}` })),
  ]);
  return {
    ...assignment,
    ...Object.fromEntries(lists),
    sweeps: assignment.sweeps.map((s, i) => ({ ...s, id: `${at}/sweep${i}` })),
  };
}

/** What points at nothing, or is no message, in a sentence. */
function oddIn(memory: BoardMemory): string | null {
  const count: Readonly<Record<PlaceKind, number>> = {
    c: memory.controls.length,
    d: memory.devices.length,
    r: memory.devices.reduce((sum, d) => sum + d.chart.length, 0),
    p: memory.banks.length + memory.groups.reduce((sum, g) => sum + g.pages.length, 0),
    g: memory.groups.length,
  };
  for (const { name, chart } of memory.devices)
    for (const fn of chart) {
      const mismatch = shapeMismatch(fn.drive, fn.shape);
      const template = fn.drive.kind === 'sysex' ? parseTemplate(fn.drive.template) : null;
      if (mismatch !== null) return `${name} ${fn.name}: ${mismatch}.`;
      if (template && !template.ok) return `${name} ${fn.name}: ${template.error.sentence}`;
    }
  let odd: string | null = null;
  JSON.stringify([memory.banks, memory.groups, memory.feel], (key, value: unknown) => {
    if (!REFERENCES.has(key)) return value;
    for (const id of [value].flat()) {
      const kind = keysOf(PLACES).find((k) => typeof id === 'string' && id.startsWith(k));
      const place = Number(String(id).slice(1));
      if (kind && place >= count[kind])
        odd ??= `Something in it belongs to ${PLACES[kind]} ${place + 1}, and there are ${count[kind]}.`;
    }
    return value;
  });
  return odd;
}

const REFERENCES: ReadonlySet<string> = new Set([
  'controlId',
  'controlIds',
  'deviceId',
  'functionId',
  'bankId',
  'groupId',
]);
type PlaceKind = keyof typeof PLACES;
const PLACES = { c: 'control', d: 'device', r: 'row', p: 'bank or page', g: 'group' } as const;
