import { scenePlan, songCalls, type WorldSong } from '../../engine';
import { takesValue, valueBounds, type ChartFunction } from '../../gear';
import {
  armingFinding,
  barQuarters,
  lengthSeconds,
  tempoIn,
  type Scene,
  type Setlist,
  type Song,
} from '../../show';
import { nth } from '../../sure';
import { found, mendTo, type ProofFinding, type Subject } from './finding';
import { nearestTaken } from './nearest';

/** What is wrong with the songs that are played, each once however often it stands in the set. */
export function songFindings(subject: Subject): ProofFinding[] {
  const bySong = new Map(subject.world.songs.map((s) => [s.song.id, s]));
  return [
    ...[...bySong.values()].flatMap((worldSong) => oneSong(subject, worldSong)),
    ...setFindings(subject),
  ];
}

function oneSong(subject: Subject, worldSong: WorldSong): ProofFinding[] {
  const { world } = subject;
  const { song } = worldSong;
  if (song.scenes.length === 0)
    return [
      found(
        'no-scenes',
        { field: `songs.${song.id}` },
        `${song.name} has no scenes yet: write one in Songs.`,
      ),
    ];
  return song.scenes.flatMap((scene, i) => {
    const arming = armingFinding(song, nth(worldSong.cells, i), world.arming, i);
    return [
      ...(arming
        ? [
            {
              ...arming,
              sentence: `${song.name}: ${arming.sentence}`,
              mends: armingMends(song, scene, arming),
            },
          ]
        : []),
      ...sceneValues(subject, song, scene),
      ...banksGone(subject, song, scene),
      ...glides(worldSong, scene),
      ...slowScene(subject, song, i),
    ];
  });
}

const withScene = (song: Song, next: Scene): Song => ({
  ...song,
  scenes: song.scenes.map((s) => (s.id === next.id ? next : s)),
});

/** Of two tracks with one input the one that comes later is let go. */
function armingMends(song: Song, scene: Scene, finding: NonNullable<ReturnType<typeof armingFinding>>) {
  const drop = finding.code === 'two-armed' ? finding.place.functionIds?.[1] : undefined;
  if (drop === undefined) return [];
  const next: Scene = {
    ...scene,
    armedFunctionIds: scene.armedFunctionIds?.filter((id) => id !== drop) ?? null,
    values:
      scene.armedFunctionIds === null
        ? [...scene.values.filter((v) => v.functionId !== drop), { functionId: drop, value: 0, way: null }]
        : scene.values,
  };
  const mend = mendTo('Let the second one go', 'song', song, withScene(song, next));
  return mend ? [mend] : [];
}

/** What a scene sets itself, held against the charts. */
function sceneValues({ world, show }: Subject, song: Song, scene: Scene): ProofFinding[] {
  const where = `${song.name}, ${scene.name}`;
  return scene.values.flatMap((v): ProofFinding[] => {
    const place = { sceneId: scene.id, functionIds: [v.functionId] };
    const withValues = (text: string, values: Scene['values']) =>
      mendTo(text, 'song', song, withScene(song, { ...scene, values }));
    const takeOut = withValues(
      'Take it out of the scene',
      scene.values.filter((x) => x !== v),
    );
    const reached = world.functions.get(v.functionId);
    if (!reached)
      return [found('scene-gone', place, `${where} sets a function that is gone from its chart.`, [takeOut])];
    const { device, fn } = reached;
    const name = `${device.name} ${fn.name}`;
    if (!takesValue(fn.shape, v.value)) {
      const near = nearestTaken(fn.shape, v.value);
      const nearer = scene.values.map((x) => (x === v ? { ...x, value: near } : x));
      const sentence = `${where} sets ${name} to ${v.value} as sent; it goes from ${boundsText(fn)}.${shownHint(fn, v.value)}`;
      return [
        found('value-outside', place, sentence, [withValues(`Set it to ${near} as sent`, nearer), takeOut]),
      ];
    }
    if (fn.reserved)
      return [
        found('scene-kept', place, `${where} sets ${name}, which the device keeps for itself.`, [takeOut]),
      ];
    const { under } = fn;
    const { setting } = device;
    if (under === null || !setting || setting.inForce === under) return [];
    const devices = show.rig.devices.map((d) =>
      d.id === device.id ? { ...d, setting: { ...setting, inForce: under } } : d,
    );
    const switched = mendTo(`Set ${setting.name} to ${under}`, 'rig', show.rig, { ...show.rig, devices });
    const sentence = `${where} sets ${name}, which ${device.name} has only under ${setting.name}: ${under}.`;
    return [found('not-in-force', place, sentence, [switched, takeOut])];
  });
}

function boundsText({ shape }: ChartFunction): string {
  const { min, max } = valueBounds(shape);
  return `${min} to ${max}`;
}

/** Whoever typed what the device shows is one above what is sent. */
function shownHint({ shape }: ChartFunction, value: number): string {
  const { max } = valueBounds(shape);
  return shape.kind === 'choice' && shape.shownFrom > shape.first && value === max + 1
    ? ' What is shown is one more than what is sent.'
    : '';
}

function banksGone({ world }: Subject, song: Song, scene: Scene): ProofFinding[] {
  return scene.banks.flatMap((b): ProofFinding[] => {
    const board = world.boardById.get(b.boardId);
    if (board?.banks[b.index]) return [];
    const name = board?.device.name ?? 'a board that is gone';
    return [
      found(
        'bank-gone',
        { sceneId: scene.id },
        `${song.name}, ${scene.name} brings ${name} to bank ${b.index + 1}, which there is not.`,
        [
          mendTo(
            'Take the bank out of the scene',
            'song',
            song,
            withScene(song, { ...scene, banks: scene.banks.filter((x) => x !== b) }),
          ),
        ],
      ),
    ];
  });
}

/** A glide that is longer than the shortest part that is its scene. */
function glides({ song, parts }: WorldSong, scene: Scene): ProofFinding[] {
  const bpm = tempoIn(song, scene.id);
  const lengths = parts.flatMap((p) =>
    p.sceneId === scene.id && p.length ? lengthSeconds(p.length, bpm, barQuarters(song)) : [],
  );
  if (lengths.length === 0 || !scene.transition) return [];
  const partS = Math.min(...lengths);
  const { time } = scene.transition;
  const glideS = time.unit === 's' ? time.amount : (time.amount * 60) / bpm;
  if (glideS <= partS + 1e-9) return [];
  const amount = time.unit === 's' ? partS : (partS * bpm) / 60;
  return [
    found(
      'glide-too-long',
      { sceneId: scene.id },
      `${song.name}, ${scene.name} glides for ${seconds(glideS)} and is over after ${seconds(partS)}.`,
      [
        mendTo(
          `Glide for ${seconds(partS)}`,
          'song',
          song,
          withScene(song, {
            ...scene,
            transition: { ...scene.transition, time: { ...time, amount: Math.floor(amount * 1000) / 1000 } },
          }),
        ),
      ],
    ),
  ];
}

const seconds = (s: number): string => `${s.toFixed(s < 10 ? 2 : 1)} s`;

/** What a port may be busy with a scene at the most before it is heard as late, in ms. Own choice. */
export const SLOW_SCENE_MS = 120;

/** A scene whose messages keep a link busy for longer than one hears. */
function slowScene({ world, show }: Subject, song: Song, sceneIndex: number): ProofFinding[] {
  if (sceneIndex === 0) return [];
  const { wireMs } = scenePlan(world, song, sceneIndex - 1, sceneIndex);
  const scene = nth(song.scenes, sceneIndex);
  return [...wireMs].flatMap(([portId, ms]) => {
    if (ms <= SLOW_SCENE_MS) return [];
    const device = show.rig.devices.find((d) => d.ports.some((p) => p.id === portId));
    const port = device?.ports.find((p) => p.id === portId);
    return found(
      'too-slow',
      { sceneId: scene.id, deviceIds: device ? [device.id] : [] },
      `${song.name}, ${scene.name}: its messages take ${Math.round(ms)} ms on ${device?.name ?? 'a port'} ${port?.name ?? ''}. Use another port for some of the gear, or set less.`,
    );
  });
}

const CHECK_DAYS = 14;
const DAY_MS = 86_400_000;

function setFindings({ world, show, set, known }: Subject): ProofFinding[] {
  const findings: ProofFinding[] = [];
  if (set) {
    findings.push(...callFindings(world, set));
    const songs = new Set(show.songs.map((s) => s.id));
    for (const entry of set.entries)
      if (entry.kind === 'song' && !entry.notTonight && !songs.has(entry.songId))
        findings.push(
          found(
            'song-gone',
            { field: `entries.${entry.id}` },
            `A song of ${set.name} is gone.`,
            [
              mendTo('Take it out of the set', 'set', set, {
                ...set,
                entries: set.entries.filter((e) => e !== entry),
              }),
            ],
            'refused',
          ),
        );
  }
  const { lastCheckMs, nowMs } = known;
  const days = lastCheckMs === null ? 0 : Math.floor((nowMs - lastCheckMs) / DAY_MS);
  if (days > CHECK_DAYS)
    findings.push(
      found(
        'check-old',
        { field: 'check' },
        `The last line check was ${days} days ago. Make one before the evening.`,
      ),
    );
  return findings;
}

/** Programs that call songs, where something else listens to one of them; with a first one where nothing does. */
function callFindings(world: Subject['world'], set: Setlist): ProofFinding[] {
  const { calls } = set;
  if (!calls) return [];
  const count = world.songs.length;
  const faults = songCalls(world, calls, count).flatMap((c, i) =>
    c.faults.map((fault) => ({ fault, song: nth(world.songs, i).song.name, program: c.program })),
  );
  if (faults.length === 0) return [];
  const bases = Array.from({ length: Math.max(0, 129 - count) }, (_, base) => base);
  const free = bases.find((base) =>
    songCalls(world, { ...calls, base }, count).every((c) => c.faults.length === 0),
  );
  const mend =
    free === undefined
      ? null
      : mendTo(`Call the first song by program ${free}`, 'set', set, {
          ...set,
          calls: { ...calls, base: free },
        });
  return faults.map(({ fault, song, program }) =>
    found(
      'calls-overlap',
      { field: 'calls' },
      `${set.name}, ${song}${program === null ? '' : `, program ${program}`}: ${fault}`,
      [mend],
    ),
  );
}
