import {
  pressesWords,
  pressWords,
  worldOfFeet,
  type FootPress,
  type Reach,
  type SceneReach,
  type Trap,
} from '@idle-step/core/proof';
import type { World } from '@idle-step/core/engine';
import { nth } from '@idle-step/core/sure';
import { Play, Square } from 'lucide-react';
import { useMemo } from 'react';
import { Button } from 'react-bootstrap';
import { foundIn, type FullShow, type useFeet } from '../../proof/useProof';
import { counted } from '../../words/counted';
import { sceneText } from './places';
import { SearchLine } from './SearchLine';
import { useReplay } from './useReplay';

type Feet = ReturnType<typeof useFeet>;

/** What feet can bring about, and what leads astray. */
export function ReachRoom({ show, feet }: { show: FullShow; feet: Feet }) {
  const world = useMemo(() => worldOfFeet(show), [show]);
  const reach = foundIn(feet.state)?.reach;
  return (
    <section aria-label="Reach">
      <SearchLine {...feet} what="Trying every press" />
      {reach && isOf(world, reach) && <Reached world={world} reach={reach} />}
    </section>
  );
}

/** Whether what was found is of the evening as it is now: scenes may have gone since. */
const isOf = (world: World, reach: Reach): boolean =>
  reach.scenes.every((s) => world.songs[s.songIndex]?.song.scenes[s.sceneIndex]?.id === s.sceneId);

function Reached({ world, reach }: { world: World; reach: Reach }) {
  const replay = useReplay();
  const far = reach.scenes.filter((s) => s.presses === null).length;
  const wrong = reach.scenes.filter((s): s is Wrong => s.differs !== null);
  return (
    <>
      <p className="proof-sum">
        {far === 0
          ? `Feet bring about all ${reach.scenes.length} scenes.`
          : `No press leads to ${counted(far, 'scene')} of ${reach.scenes.length}.`}{' '}
        {wrong.length > 0 && `${counted(wrong.length, 'scene')} may stand otherwise than written.`}{' '}
        <span className="muted">{howFar(reach)}</span>
      </p>
      {replay.at !== null && (
        <p className="notice" role="status">
          Press {replay.at + 1} is played on the floor.{' '}
          <Button variant="quiet" onClick={replay.stop}>
            <Square size={14} strokeWidth={2} aria-hidden="true" /> Stop
          </Button>
        </p>
      )}
      {replay.refusal && <p className="muted">{replay.refusal}</p>}
      {wrong.length > 0 && (
        <>
          <h2>Stands otherwise</h2>
          <ul className="finding-list">
            {wrongByWhat(wrong).map(([first, ...more]) => (
              <Counter
                key={keyOf(first)}
                world={world}
                text={`${sceneText(world, first)}: ${names(world, first.differs.functionIds)} as the scene says.${more.length > 0 ? ` So in ${counted(more.length, 'other scene')}.` : ''}`}
                presses={first.differs.presses}
                replay={replay}
              />
            ))}
          </ul>
        </>
      )}
      {reach.traps.length > 0 && (
        <>
          <h2>Pressed by mistake</h2>
          <p className="muted small">There is no way back within three presses.</p>
          <ul className="finding-list">
            {trapsByPress(reach.traps).map(([first, ...more]) => (
              <Counter
                key={`${keyOf(first)} ${first.controlId} ${first.gesture}`}
                world={world}
                text={`${trapText(world, first)}${more.length > 0 ? ` So in ${counted(more.length, 'other scene')}.` : ''}`}
                presses={first.presses}
                replay={replay}
              />
            ))}
          </ul>
        </>
      )}
      <Unused world={world} reach={reach} />
      <h2>Every scene</h2>
      <SceneTable world={world} scenes={reach.scenes} />
    </>
  );
}

type Wrong = SceneReach & { readonly differs: NonNullable<SceneReach['differs']> };

/** One line for the scenes in which the same stands otherwise. */
function wrongByWhat(scenes: readonly Wrong[]): [Wrong, ...Wrong[]][] {
  const byWhat = new Map<string, [Wrong, ...Wrong[]]>();
  for (const scene of scenes) {
    const key = scene.differs.functionIds.join();
    const known = byWhat.get(key);
    if (known) known.push(scene);
    else byWhat.set(key, [scene]);
  }
  return [...byWhat.values()];
}

/** One line for each thing that is pressed, with the places where that leads astray. */
function trapsByPress(traps: readonly Trap[]): [Trap, ...Trap[]][] {
  const byPress = new Map<string, [Trap, ...Trap[]]>();
  for (const trap of traps) {
    const key = `${trap.controlId} ${trap.gesture}`;
    const known = byPress.get(key);
    if (known) known.push(trap);
    else byPress.set(key, [trap]);
  }
  return [...byPress.values()];
}

const trapText = (world: World, trap: Trap): string =>
  `${pressWords(world, trap)} in ${sceneText(world, trap)} leads to ${trap.leadsTo ? sceneText(world, trap.leadsTo) : 'no scene'}; ${trap.back === null ? 'nothing leads back' : `it takes ${trap.back} presses to get back`}.`;

const keyOf = ({ entryId, sceneId }: { entryId: string; sceneId: string }) => `${entryId} ${sceneId}`;

function howFar({ tried, states, isExact, isWhole }: Reach): string {
  if (!isWhole)
    return `${tried} presses were tried, and there is more: what is not found here may still be there.`;
  return isExact
    ? `${tried} presses from ${states} states were tried: all that there are.`
    : `${tried} presses from ${states} places were tried: all that lead anywhere. How the gear stands was tried as it comes there, and once in each scene with everything else pressed before.`;
}

const names = (world: World, ids: readonly string[]): string => {
  const [first, ...more] = ids.map((id) => {
    const reached = world.functions.get(id);
    return reached ? `${reached.device.name} ${reached.fn.name}` : 'a function that is gone';
  });
  const text = more.length > 0 ? `${first} and ${more.length} more` : first;
  return `${text} ${ids.length === 1 ? 'does' : 'do'} not stand`;
};

/** A list of presses that shows what is said, playable at once. */
function Counter({
  world,
  text,
  presses,
  replay,
}: {
  world: World;
  text: string;
  presses: readonly FootPress[];
  replay: ReturnType<typeof useReplay>;
}) {
  return (
    <li>
      <i className="severity warned" aria-hidden="true" />
      <div>
        <p>{text}</p>
        <p className="small muted press-list">{pressesWords(world, presses)}</p>
      </div>
      <span className="finding-tools">
        <Button
          variant="quiet"
          disabled={replay.at !== null || replay.refusal !== null}
          onClick={() => replay.play(presses)}
        >
          <Play size={16} strokeWidth={1.75} aria-hidden="true" />
          Play it on the floor
        </Button>
      </span>
    </li>
  );
}

function Unused({ world, reach }: { world: World; reach: Reach }) {
  const lines = [
    list(
      'Banks that no press leads to',
      reach.unseenBanks.map((id) => world.pageNames.get(id) ?? 'a bank'),
    ),
    list(
      'Controls with nothing to do in any bank',
      reach.idleControls.map((id) => pressWords(world, { controlId: id, gesture: 'press' })),
    ),
    list(
      'Scenes that stand in no part',
      reach.unplayedScenes.map(({ songId, sceneId }) => {
        const song = world.songs.find((s) => s.song.id === songId)?.song;
        return `${song?.name ?? ''} ${song?.scenes.find((s) => s.id === sceneId)?.name ?? ''}`;
      }),
    ),
  ].filter((l) => l !== null);
  if (lines.length === 0) return null;
  return (
    <>
      <h2>Never used</h2>
      {lines.map((line) => (
        <p key={line} className="unused">
          {line}
        </p>
      ))}
    </>
  );
}

const list = (what: string, all: readonly string[]): string | null =>
  all.length === 0 ? null : `${what}: ${all.join(', ')}.`;

function SceneTable({ world, scenes }: { world: World; scenes: readonly SceneReach[] }) {
  return (
    <div className="preset-scroll" role="region" aria-label="Every scene and how feet get there" tabIndex={0}>
      <table className="sends-list reach-table">
        <thead>
          <tr>
            <th scope="col">Song</th>
            <th scope="col">Scene</th>
            <th scope="col" className="num">
              From the scene before
            </th>
            <th scope="col" className="num">
              From the beginning
            </th>
            <th scope="col" className="num">
              From anywhere
            </th>
          </tr>
        </thead>
        <tbody>
          {scenes.map((s, i) => {
            const { song } = nth(world.songs, s.songIndex);
            const isFirst = scenes[i - 1]?.songIndex !== s.songIndex;
            return (
              <tr key={keyOf(s)} className={s.presses === null ? 'bad' : ''}>
                <td>{isFirst ? song.name : ''}</td>
                <td>{nth(song.scenes, s.sceneIndex).name}</td>
                <td className="num">{between(s.fromBefore, i === 0)}</td>
                <td className="num">{s.presses === null ? 'no way' : pressesOf(s.presses.length)}</td>
                <td className="num">
                  {s.fromAnywhere === null ? 'not always' : `at most ${s.fromAnywhere}`}
                </td>
              </tr>
            );
          })}
        </tbody>
      </table>
    </div>
  );
}

const pressesOf = (n: number): string => (n === 0 ? 'begins there' : counted(n, 'press', 'presses'));

const between = (from: SceneReach['fromBefore'], isFirst: boolean): string =>
  isFirst
    ? ''
    : from === null
      ? 'not always'
      : from.fewest === from.most
        ? counted(from.most, 'press', 'presses')
        : `${from.fewest} to ${from.most} presses`;
