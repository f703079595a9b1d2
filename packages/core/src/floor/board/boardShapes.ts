import {
  PLAIN_BOARD,
  PLAIN_HARDWARE,
  type Board,
  type Control,
  type ControlKind,
  type ControlMessage,
} from './board';

/** A board as it comes ready-made: all but what makes it one of a rig. Sizes in mm. */
export type BoardShape = {
  readonly kind: string;
  readonly text: string;
  /** What a controller of this shape is called at first. */
  readonly name: string;
  readonly widthMm: number;
  readonly heightMm: number;
  readonly controls: readonly Omit<Control, 'id'>[];
};

type Size = { readonly w: number; readonly h: number };

const control = (
  name: string,
  kind: ControlKind,
  sends: ControlMessage,
  xMm: number,
  yMm: number,
  { w, h }: Size,
): Omit<Control, 'id'> => ({
  name,
  kind,
  xMm,
  yMm,
  widthMm: w,
  heightMm: h,
  sends,
  channel: null,
  hardware: PLAIN_HARDWARE,
});

/** Columns by rows of the same control, in reading order. */
function field(
  kind: ControlKind,
  names: (i: number) => string,
  first: ControlMessage,
  at: { x: number; y: number; columns: number; rows: number; gap: number },
  size: Size,
): Omit<Control, 'id'>[] {
  return Array.from({ length: at.columns * at.rows }, (_, i) =>
    control(
      names(i),
      kind,
      { kind: first.kind, number: first.number + i },
      at.x + (i % at.columns) * (size.w + at.gap),
      at.y + Math.floor(i / at.columns) * (size.h + at.gap),
      size,
    ),
  );
}

const cc = (number: number): ControlMessage => ({ kind: 'controller', number });
const note = (number: number): ControlMessage => ({ kind: 'note', number });
const KEY_CAP = { w: 40, h: 48 };
const key = (number: number): ControlMessage => ({ kind: 'key', number });
const SWITCH = { w: 112, h: 116 };

/** The first keys of an octave that are black. */
const BLACK = new Set([1, 3, 6, 8, 10]);

function keys(): Omit<Control, 'id'>[] {
  let white = 0;
  return Array.from({ length: 25 }, (_, i) => {
    const isBlack = BLACK.has(i % 12);
    const x = isBlack ? 12 + white * 24 - 7 : 12 + white++ * 24;
    return control(
      `key ${i + 1}`,
      'key',
      note(48 + i),
      x,
      60,
      isBlack ? { w: 14, h: 62 } : { w: 23, h: 100 },
    );
  });
}

/** Boards that can be added with one press. Of the controllers 20–31 and 85–90 are free. */
export const BOARD_SHAPES: readonly BoardShape[] = [
  {
    kind: 'three-switches',
    text: 'Three switches in a row',
    name: 'Switches',
    widthMm: 370,
    heightMm: 144,
    controls: field(
      'footswitch',
      (i) => `switch ${i + 1}`,
      cc(20),
      { x: 11, y: 14, columns: 3, rows: 1, gap: 4 },
      SWITCH,
    ),
  },
  {
    kind: 'four-small',
    text: 'Four small switches',
    name: 'Small switches',
    widthMm: 340,
    heightMm: 120,
    controls: field(
      'footswitch',
      (i) => `switch ${i + 1}`,
      cc(20),
      { x: 12, y: 12, columns: 4, rows: 1, gap: 4 },
      { w: 76, h: 96 },
    ),
  },
  {
    kind: 'ten-and-two',
    text: 'Ten switches and two pedals',
    name: 'Foot board',
    widthMm: 880,
    heightMm: 264,
    controls: [
      ...field(
        'footswitch',
        (i) => (i < 5 ? `far ${i + 1}` : `near ${i - 4}`),
        cc(20),
        { x: 16, y: 14, columns: 5, rows: 2, gap: 7 },
        { w: 129, h: 114 },
      ),
      ...field(
        'expression-pedal',
        (i) => `pedal ${i + 1}`,
        cc(85),
        { x: 704, y: 14, columns: 2, rows: 1, gap: 12 },
        { w: 74, h: 236 },
      ),
    ],
  },
  {
    kind: 'mixer-strips',
    text: 'Eight knobs over eight faders, with buttons',
    name: 'Knobs and faders',
    widthMm: 440,
    heightMm: 330,
    controls: [
      ...field(
        'knob',
        (i) => `knob ${i + 1}`,
        cc(70),
        { x: 16, y: 14, columns: 8, rows: 1, gap: 6 },
        { w: 46, h: 66 },
      ),
      ...field(
        'button',
        (i) => `button ${i + 1}`,
        cc(102),
        { x: 16, y: 90, columns: 8, rows: 1, gap: 6 },
        { w: 46, h: 56 },
      ),
      ...field(
        'fader',
        (i) => `fader ${i + 1}`,
        cc(20),
        { x: 16, y: 156, columns: 8, rows: 1, gap: 6 },
        { w: 46, h: 160 },
      ),
    ],
  },
  {
    kind: 'page-turner',
    text: 'A page-turning pedal: the keys Page Up and Page Down',
    name: 'Page pedal',
    widthMm: 250,
    heightMm: 144,
    controls: [
      control('left', 'footswitch', key(75), 11, 14, SWITCH),
      control('right', 'footswitch', key(78), 127, 14, SWITCH),
    ],
  },
  {
    kind: 'computer-keys',
    text: 'Ten keys of the computer: F1 to F10',
    name: 'Computer keys',
    widthMm: 450,
    heightMm: 70,
    controls: field(
      'button',
      (i) => `F${i + 1}`,
      key(58),
      { x: 12, y: 11, columns: 10, rows: 1, gap: 3 },
      KEY_CAP,
    ),
  },
  {
    kind: 'sixteen-pads',
    text: 'Sixteen pads',
    name: 'Pads',
    widthMm: 328,
    heightMm: 328,
    controls: field(
      'pad',
      (i) => `pad ${i + 1}`,
      note(36),
      { x: 14, y: 14, columns: 4, rows: 4, gap: 6 },
      { w: 70, h: 70 },
    ),
  },
  {
    kind: 'two-pedals',
    text: 'A bar of two pedals',
    name: 'Pedals',
    widthMm: 200,
    heightMm: 264,
    controls: field(
      'expression-pedal',
      (i) => `pedal ${i + 1}`,
      cc(85),
      { x: 18, y: 14, columns: 2, rows: 1, gap: 16 },
      { w: 74, h: 236 },
    ),
  },
  {
    kind: 'short-keyboard',
    text: 'Short keyboard, 25 keys and a wheel',
    name: 'Keyboard',
    widthMm: 440,
    heightMm: 172,
    controls: [
      ...keys(),
      control('bend', 'strip', { kind: 'pitch-bend', number: 0 }, 386, 60, { w: 40, h: 100 }),
    ],
  },
];

/** A board of a rig in one of the shapes. @param at its left and upper edge on the floor, mm. */
export function shapedBoard(
  shape: BoardShape,
  head: { readonly id: string; readonly deviceId: string; readonly xMm: number; readonly yMm: number },
  newId: () => string,
): Board {
  return {
    ...PLAIN_BOARD,
    ...head,
    presetId: null,
    widthMm: shape.widthMm,
    heightMm: shape.heightMm,
    controls: shape.controls.map((c) => ({ ...c, id: newId() })),
  };
}

/** Numbers that the standard or long habit has given away, so that a new control does not take them. */
const TAKEN_CONTROLLERS: ReadonlySet<number> = new Set([
  ...[0, 1, 2, 4, 5, 6, 7, 8, 10, 11, 32, 38, 64, 65, 66, 67, 68, 69],
  ...Array.from({ length: 6 }, (_, i) => 96 + i),
  ...Array.from({ length: 8 }, (_, i) => 120 + i),
]);

/**
 * What a new control of a kind would send: the next free note from 36 for pads and keys, the next free controller
 * from 20 for everything else; `null` when all are taken.
 */
export function nextMessage(board: Pick<Board, 'controls'>, kind: ControlKind): ControlMessage | null {
  const isNote = kind === 'pad' || kind === 'key';
  const taken = new Set(
    board.controls
      .filter((c) => c.channel === null && c.sends.kind === (isNote ? 'note' : 'controller'))
      .map((c) => c.sends.number),
  );
  const first = isNote ? 36 : 20;
  for (let i = 0; i < 128; i++) {
    const number = (first + i) % 128;
    if (!taken.has(number) && (isNote || !TAKEN_CONTROLLERS.has(number)))
      return { kind: isNote ? 'note' : 'controller', number };
  }
  return null;
}

/** Sizes that a new control of a kind has at first, mm. */
export const CONTROL_SIZES: Readonly<Record<ControlKind, Size>> = {
  footswitch: SWITCH,
  button: { w: 40, h: 48 },
  pad: { w: 70, h: 70 },
  key: { w: 23, h: 100 },
  'expression-pedal': { w: 74, h: 236 },
  fader: { w: 46, h: 160 },
  knob: { w: 46, h: 66 },
  strip: { w: 40, h: 120 },
  encoder: { w: 46, h: 66 },
};
