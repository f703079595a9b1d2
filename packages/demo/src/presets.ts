import {
  type Action,
  type Assignment,
  type Sweep,
  type Preset,
  PLAIN_ASSIGNMENT,
  PLAIN_BANK,
  PLAIN_PRESET,
} from '@idle-step/core/floor';
import { demoId, idRun, PLANK_BOARD_ID, PLANK_PRESET_ID, RIG_ID, TWIG_BOARD_ID, TWIG_PRESET_ID } from './ids';
import { demoControl, demoFunction } from './rig';

const actionId = idRun(9);

// Plain objects without an identifier, which `assign` gives them.
type Loose = Action extends infer A ? (A extends { id: string } ? Omit<A, 'id'> : never) : never;

const set = (device: string, fn: string, value: number): Loose => ({
  kind: 'set',
  functionId: demoFunction(device, fn),
  value,
});
const toggle = (device: string, fn: string): Loose => ({
  kind: 'toggle',
  functionId: demoFunction(device, fn),
});
const scene = (index: number): Loose => ({ kind: 'scene', to: { kind: 'at', index } });

const plain = (part: Partial<Assignment> & { controlId: string }): Assignment => ({
  ...PLAIN_ASSIGNMENT,
  ...part,
});

function assign(control: string, label: string, press: Loose[], release: Loose[] = []): Assignment {
  const withIds = (list: Loose[]) => list.map((a) => ({ ...a, id: actionId() }));
  return plain({
    controlId: demoControl(control),
    label,
    press: withIds(press),
    release: withIds(release),
  });
}

function pedal(
  control: string,
  label: string,
  fn: string,
  part: Partial<Pick<Sweep, 'from' | 'to' | 'invert' | 'curve'>> = {},
): Assignment {
  const sweep: Sweep = {
    id: actionId(),
    functionId: demoFunction('Kelpline', fn),
    from: 0,
    to: 127,
    invert: false,
    curve: 'linear',
    points: [],
    ...part,
  };
  return plain({ controlId: demoControl(control), label, sweeps: [sweep] });
}

const pedals = () => [
  pedal('pedal 1', 'Swell', 'Volume'),
  pedal('pedal 2', 'Wash', 'Reverb mix', { to: 110, curve: 'audio' }),
];
const bankUp = () => assign('far 5', 'Bank up', [{ kind: 'bank', to: { kind: 'up' } }]);
const next = () => assign('near 5', 'Next', [{ kind: 'scene', to: { kind: 'next' } }]);

const PRESET = { ...PLAIN_PRESET, groups: [], feel: [] };
const BANK = { colour: PLAIN_BANK.colour, remark: PLAIN_BANK.remark };

export const demoPresets: readonly Preset[] = [
  {
    id: PLANK_PRESET_ID,
    rigId: RIG_ID,
    boardId: PLANK_BOARD_ID,
    name: 'Ferry tour',
    ...PRESET,
    folder: 'Tour',
    banks: [
      {
        id: demoId(10, 1),
        name: 'Crossing',
        ...BANK,
        assignments: [
          assign('far 1', '', [toggle('Kelpline', 'Drive')]),
          assign('far 2', '', [toggle('Deckhouse', 'Arm Bow')]),
          assign('far 3', 'Rope echo', [toggle('Kelpline', 'Echo'), set('Kelpline', 'Reverb mix', 88)]),
          assign('far 4', '', [toggle('Deckhouse', 'Arm Voice')]),
          bankUp(),
          assign('near 1', '', [scene(0)]),
          assign('near 2', '', [scene(1)]),
          assign('near 3', '', [scene(2)]),
          assign('near 4', '', [scene(3)]),
          next(),
          ...pedals(),
        ],
      },
      {
        id: demoId(10, 2),
        name: 'Snapshots',
        ...BANK,
        assignments: [
          ...[5, 6, 7].map((value, i) => assign(`far ${i + 1}`, '', [set('Kelpline', 'Snapshot', value)])),
          assign('far 4', 'Talk', [set('Deckhouse', 'Mute Voice', 1)], [set('Deckhouse', 'Mute Voice', 0)]),
          bankUp(),
          ...[0, 1, 2, 3].map((value, i) =>
            assign(`near ${i + 1}`, '', [set('Kelpline', 'Snapshot', value)]),
          ),
          next(),
          ...pedals(),
        ],
      },
      {
        id: demoId(10, 3),
        name: 'Sound check',
        ...BANK,
        assignments: [
          ...['Gate', 'Drive', 'Chorus', 'Delay'].map((fn, i) =>
            assign(`far ${i + 1}`, '', [toggle('Kelpline', fn)]),
          ),
          bankUp(),
          assign('near 1', 'Record', [set('Deckhouse', 'Record', 0)], [set('Deckhouse', 'Record off', 0)]),
          assign('near 2', 'Reeds ready', [toggle('Deckhouse', 'Record ready Reeds')]),
          assign('near 3', 'Mute bow', [toggle('Deckhouse', 'Mute Bow')]),
          next(),
          ...pedals(),
        ],
      },
    ],
  },
  {
    id: TWIG_PRESET_ID,
    rigId: RIG_ID,
    boardId: TWIG_BOARD_ID,
    name: 'Endpin',
    ...PRESET,
    banks: [
      {
        id: demoId(10, 4),
        name: 'Beside the cello',
        ...BANK,
        assignments: [
          assign('switch 1', '', [{ kind: 'scene', to: { kind: 'previous' } }]),
          assign('switch 2', 'Song on', [{ kind: 'song', to: 'next' }]),
          assign('switch 3', '', [set('Deckhouse', 'Play', 0)]),
          assign('switch 4', '', [set('Deckhouse', 'Stop', 0)]),
        ],
      },
    ],
  },
];
