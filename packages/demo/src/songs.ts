import {
  PLAIN_ENTRY,
  PLAIN_LINE,
  PLAIN_SCENE,
  PLAIN_SET,
  PLAIN_SONG,
  PLAIN_TEMPO_CHANGE,
  type Scene,
  type SetEntry,
  type Setlist,
  type Song,
} from '@idle-step/core/show';
import { demoId, idRun, RIG_ID } from './ids';
import { demoFunction } from './rig';
import { DEMO_LAYER } from './routes';
import { keysOf, there } from '@idle-step/core/sure';

/** Short names of the functions that the demo songs use, with what they stand for. */
const F = {
  prog: ['Kelpline', 'Program'],
  snap: ['Kelpline', 'Snapshot'],
  echo: ['Kelpline', 'Echo'],
  drive: ['Kelpline', 'Drive amount'],
  wash: ['Kelpline', 'Reverb mix'],
  bow: ['Deckhouse', 'Arm Bow'],
  voice: ['Deckhouse', 'Arm Voice'],
  hum: ['Deckhouse', 'Arm Hum'],
  reeds: ['Deckhouse', 'Record ready Reeds'],
  level: ['Deckhouse', 'Level Voice'],
  play: ['Deckhouse', 'Play'],
  stop: ['Deckhouse', 'Stop'],
} as const;

type Values = Partial<Record<keyof typeof F, number>>;
type SceneLine = [name: string, values: Values, part?: Partial<Scene>];

const sceneId = idRun(12);
const partId = idRun(48);
let nextSong = 0;

function song(
  name: string,
  tempoBpm: number,
  beatsPerBar: number,
  lengthS: number,
  scenes: SceneLine[],
  more: Partial<Pick<Song, 'key' | 'remark' | 'tags' | 'line'>> & {
    order?: [scene: string, bars: number][];
  } = {},
): Song {
  const { order = [], ...rest } = more;
  const made: Song = {
    id: demoId(11, ++nextSong),
    rigId: RIG_ID,
    name,
    tempoBpm,
    beatsPerBar,
    lengthS,
    ...PLAIN_SONG,
    scenes: scenes.map(([sceneName, values, part]) => ({
      ...PLAIN_SCENE,
      ...part,
      id: sceneId(),
      name: sceneName,
      values: keysOf(values).map((key) => {
        const [device, fn] = F[key];
        return { functionId: demoFunction(device, fn), value: values[key] ?? 0, way: null };
      }),
    })),
    ...rest,
  };
  return {
    ...made,
    parts: order.map(([scene, bars]) => ({
      id: partId(),
      sceneId: there(made.scenes.find((s) => s.name === scene)).id,
      name: '',
      length: { amount: bars, unit: 'bars' },
      remark: '',
    })),
  };
}

/** Ranges glide over some beats, and what cannot glide switches at the start. */
const over = (beats: number): Partial<Scene> => ({
  transition: { time: { amount: beats, unit: 'beats' }, curve: 's', switchAt: 0 },
});

const STAYS = PLAIN_TEMPO_CHANGE;

const cueId = idRun(49);
type CueDoc = Song['line']['cues'][number];
type ActionDoc = CueDoc['actions'][number];
/** One action without its identifier. */
type Does = ActionDoc extends infer A ? (A extends ActionDoc ? Omit<A, 'id'> : never) : never;

const cue = (name: string, bar: number, does: Does): CueDoc => ({
  id: cueId(),
  name,
  bar,
  beat: 1,
  actions: [{ id: cueId(), ...does }],
});

const glide = (key: keyof typeof F, to: number, beats: number): Does => ({
  kind: 'ramp',
  functionId: demoFunction(F[key][0], F[key][1]),
  from: null,
  to,
  time: { amount: beats, unit: 'beats' },
  curve: 'linear',
});

const switched =
  (on: boolean) =>
  (...routeIds: readonly string[]): Partial<Scene> => ({
    routes: routeIds.map((routeId) => ({ routeId, part: 'route', on })),
  });
const sounds = switched(true);
const silent = switched(false);

export const demoSongs: readonly Song[] = [
  song('Low Water', 72, 4, 250, [
    ['Intro', { prog: 13, snap: 0, wash: 40, bow: 1, voice: 0 }],
    ['Verse', { snap: 1, voice: 1 }],
    ['Outro', { snap: 0, wash: 90, voice: 0 }],
  ]),
  song('Rope and Bell', 118, 4, 215, [
    ['Intro', { prog: 8, snap: 0, wash: 20, bow: 1, voice: 0, play: 0 }],
    ['Verse', { snap: 2, voice: 1 }],
    ['Chorus', { snap: 3, wash: 64, echo: 1 }],
    ['Outro', { snap: 0, echo: 0, voice: 0, stop: 0 }],
  ]),
  song('Tin Lantern', 92, 3, 230, [
    ['Verse', { prog: 13, snap: 1, wash: 30, bow: 0, voice: 1 }],
    ['Chorus', { snap: 4, wash: 70, bow: 1 }],
    ['Bridge', { prog: 40, snap: 2, wash: 96, hum: 1 }],
    ['Outro', { prog: 13, snap: 0, wash: 30, hum: 0 }],
  ]),
  song(
    'Slow Ferry',
    100,
    4,
    240,
    [
      ['Intro', { prog: 13, snap: 0, wash: 40, bow: 1, voice: 0 }],
      ['Verse', { snap: 1, voice: 1, level: 96 }],
      ['Chorus', { snap: 2, wash: 88 }],
      ['Bridge', { prog: 20, snap: 0, bow: 0, level: 80 }],
      ['Outro', { prog: 13, snap: 1, wash: 112, bow: 1, voice: 0 }],
    ],
    {
      order: [
        ['Intro', 8],
        ['Verse', 16],
        ['Chorus', 8],
        ['Verse', 16],
        ['Chorus', 8],
        ['Bridge', 12],
        ['Outro', 8],
      ],
      line: {
        ...PLAIN_LINE,
        partsByTime: false,
        cues: [
          cue('Deeper', 17, glide('wash', 60, 8)),
          cue('Roundel play', 33, {
            kind: 'set',
            functionId: demoFunction('Roundel', 'All start'),
            value: 0,
          }),
          cue('Low voice', 57, glide('level', 70, 4)),
          cue('Out', 70, glide('wash', 127, 20)),
        ],
        tempos: [
          { id: demoId(51, 1), bar: 69, ...STAYS, bpm: 100 },
          { id: demoId(51, 2), bar: 77, ...STAYS, bpm: 92, isGradual: true },
        ],
        loop: { fromBar: 25, toBar: 32, isOn: false },
      },
    },
  ),
  song(
    'Heron',
    64,
    4,
    265,
    [
      ['Still', { prog: 3, snap: 0, wash: 60, bow: 1, voice: 0 }, { remark: 'wait for the bell' }],
      ['Rising', { snap: 5, wash: 84, drive: 30 }, over(8)],
      ['Away', { snap: 0, drive: 0, wash: 110 }, over(4)],
    ],
    { key: 'D minor', tags: ['quiet'] },
  ),
  song('Night Pilot', 126, 4, 205, [
    ['Intro', { prog: 20, snap: 1, wash: 24, bow: 1, voice: 0, play: 0 }],
    ['Verse', { snap: 2, voice: 1 }],
    ['Chorus', { snap: 7, drive: 64 }],
    ['Verse 2', { snap: 2, drive: 10 }],
    ['Break', { snap: 6, bow: 0, reeds: 1 }],
    ['Last chorus', { snap: 7, drive: 64, bow: 1, reeds: 0, stop: 0 }],
  ]),
  song('Salt Stairs', 84, 4, 235, [
    ['Verse', { prog: 8, snap: 0, wash: 44, bow: 1, voice: 1 }],
    ['Stairs', { snap: 4, echo: 1 }],
    ['Landing', { snap: 0, echo: 0, wash: 76 }],
  ]),
  song(
    'Paper Weir',
    108,
    4,
    222,
    [
      ['Intro', { prog: 40, snap: 0, wash: 52, bow: 1, voice: 0 }],
      ['Verse', { snap: 1, voice: 1, hum: 0 }, sounds(DEMO_LAYER.lowHum)],
      ['Weir', { snap: 3, wash: 100, hum: 1 }, { colour: 'sky', ...sounds(DEMO_LAYER.highBells) }],
      ['Outro', { snap: 0, wash: 52, hum: 0, voice: 0 }, silent(DEMO_LAYER.lowHum, DEMO_LAYER.highBells)],
    ],
    {
      key: 'G',
      tags: ['sing along'],
      order: [
        ['Intro', 8],
        ['Verse', 16],
        ['Weir', 16],
        ['Verse', 16],
        ['Weir', 24],
        ['Outro', 20],
      ],
    },
  ),
  song('Long Mooring', 58, 4, 290, [
    ['Drone', { prog: 27, snap: 0, wash: 118, bow: 1, voice: 0 }],
    ['Words', { snap: 1, wash: 80, voice: 1 }],
    ['Drone again', { snap: 0, wash: 118, voice: 0 }],
  ]),
  song('Gull Clock', 132, 3, 190, [
    ['Intro', { prog: 8, snap: 6, wash: 18, bow: 1, voice: 0, play: 0 }],
    ['Verse', { snap: 2, voice: 1 }],
    ['Tick', { snap: 5, bow: 0 }],
    ['Outro', { snap: 6, bow: 1, voice: 0, stop: 0 }],
  ]),
  song('Lantern Home', 76, 4, 260, [
    ['Verse', { prog: 13, snap: 1, wash: 36, bow: 1, voice: 1 }],
    ['Chorus', { snap: 2, wash: 72 }, over(2)],
    ['All', { snap: 3, hum: 1, level: 110 }, { remark: 'everybody sings', tempoBpm: 84 }],
    ['Home', { prog: 3, snap: 0, wash: 90, hum: 0, voice: 0 }],
  ]),
];

const entryId = idRun(14);
const play = (name: string): SetEntry => {
  const found = demoSongs.find((s) => s.name === name);
  if (!found) throw new Error(`The demo has no song ${name}`);
  return {
    ...PLAIN_ENTRY,
    id: entryId(),
    kind: 'song',
    songId: found.id,
    lengthS: null,
    leftOutSceneIds: [],
  };
};
const pause = (name: string, lengthS: number): SetEntry => ({
  ...PLAIN_ENTRY,
  id: entryId(),
  kind: 'break',
  name,
  lengthS,
});

export const demoSets: readonly Setlist[] = [
  {
    id: demoId(13, 1),
    rigId: RIG_ID,
    ...PLAIN_SET,
    name: 'Lock 9 landing',
    place: 'Lock 9',
    startMin: 20 * 60,
    slotS: 3600,
    entries: [
      ...['Low Water', 'Rope and Bell', 'Tin Lantern', 'Slow Ferry', 'Heron'].map(play),
      pause('Tea on deck', 900),
      ...['Night Pilot', 'Salt Stairs', 'Paper Weir', 'Long Mooring', 'Gull Clock', 'Lantern Home'].map(play),
    ],
  },
  {
    id: demoId(13, 2),
    rigId: RIG_ID,
    ...PLAIN_SET,
    name: 'Weir mill, short',
    entries: ['Heron', 'Low Water', 'Slow Ferry', 'Salt Stairs', 'Lantern Home'].map(play),
  },
];
