import { partName } from '@idle-step/core/show';
import {
  armedTracks,
  armingNow,
  nextThing,
  type Ahead,
  type Place,
  type World,
} from '@idle-step/core/engine';
import { useEffect } from 'react';
import { Link } from 'react-router-dom';
import { useRig } from '../../drafts/useDocs';
import {
  useIsShown,
  useLiveHost,
  useLiveOf,
  useLiveState,
  usePlace,
  useSongIndex,
  useWorld,
  useIsAside,
} from '../../live/use/useLive';
import { minutes } from '../../words/times';
import { useAppSelector } from '../../store';
import { Cloth } from '../../ui/Cloth';
import { Corners } from '../../ui/Corners';
import { FitText } from '../../ui/FitText';
import { inPieces } from '../../ui/inPieces';
import { TapeMark } from '../../ui/TapeMark';
import { Beats } from '../../boards/Beats';
import { CheckNow } from '../../check/CheckNow';
import { useLineCheck } from '../../check/useLineCheck';
import type { StagePart } from '../../screen/screenSlice';
import { PractiseNow } from './PractiseTable';
import { CountInNow } from './CountInNow';
import { SetLine, usePause } from './SetLine';
import { StageBoards } from './StageBoards';
import { OrderView, SongView } from './StageLists';
import { StageFoot } from './StageFoot';
import { InBars, StageBar } from './StageLine';
import { SongClock } from './SongClock';
import { useFollow } from './useFollow';
import { usePractise } from './usePractise';
import { useStageKeys } from './useStageKeys';
import { useWakeLock } from './useWakeLock';
import { nth } from '@idle-step/core/sure';
import { nextStep, usePlanSteps } from '../../proof/planOnStage';

const RehearsePanel = inPieces(
  () => import('./RehearsePanel').then((m) => m.RehearsePanel),
  <aside className="rehearse" />,
);

/** Playing: read from two metres, no frame around it. */
export function StagePlace({ isRehearsal = false }: { isRehearsal?: boolean }) {
  const theme = useAppSelector((s) => s.screen.stageTheme);
  const { rig, isLoading: isFetchingRig } = useRig();
  const isShown = useIsShown(rig?.id);
  const isLoading = isFetchingRig || (rig !== null && !isShown);
  const world = useWorld();
  const songIndex = useSongIndex();
  const isRunning = useLiveOf(({ state }) => state.run !== null);
  const isAside = useIsAside();
  const isSceneEdited = useLiveOf((live) => live.isSceneEdited);
  const following = useFollow();
  useStageKeys();
  useWakeLock();
  const { stageText, stageHidden, afterPort } = useAppSelector((s) => s.screen);
  const host = useLiveHost();
  const { view } = useLiveState('view');
  const shows = (part: StagePart) => !stageHidden.includes(part);
  useEffect(() => {
    host.setTellsAgain(afterPort === 'again');
  }, [host, afterPort]);
  useEffect(() => {
    document.documentElement.dataset['bsTheme'] = theme;
  }, [theme]);
  const practising = usePractise(world);
  const check = useLineCheck();
  const song = world.songs[songIndex]?.song;
  if (!song)
    return (
      <main className="stage">
        <h1>{isLoading ? 'Fetching the set …' : 'Nothing to play yet'}</h1>
        {!isLoading && (
          <p className="stage-empty">
            {rig ? 'The set in play has no songs.' : 'There is no rig yet.'}{' '}
            <Link to={rig ? '/sets' : '/rig'}>{rig ? 'Go to Sets' : 'Go to Rig'}</Link>
          </p>
        )}
      </main>
    );
  return (
    <main
      className={`stage ${isRehearsal ? 'rehearsal' : ''} ${practising.now ? 'practises' : ''} view-${view} text-${stageText} ${shows('marks') ? '' : 'without-marks'}`}
    >
      <header className="stage-head">
        <h1>
          <FitText text={song.name} max={72} min={40} byHeight={false} />
        </h1>
        <span className="stage-where">
          <span className="num">{songIndex + 1}</span> of <span className="num">{world.songs.length}</span>
          {world.show.setName ? `, ${world.show.setName}` : ''}
        </span>
        {shows('times') && <SongTime lengthS={nth(world.songs, songIndex).lengthS} />}
      </header>
      {(shows('times') || !isRunning || isAside || isSceneEdited) && (
        <SetLine world={world} following={following} />
      )}
      <div className="stage-middle">
        {check && !check.isDone ? (
          <CheckNow check={check} middleC={world.show.rig.middleC} />
        ) : practising.now ? (
          <PractiseNow world={world} practising={practising} />
        ) : view === 'order' ? (
          <OrderView world={world} />
        ) : view === 'song' ? (
          <SongView world={world} />
        ) : (
          <SceneNow world={world} />
        )}
        <div className="stage-side">
          {shows('next') && !practising.now && (!check || check.isDone) && <Next world={world} />}
          {shows('tempo') && <TempoNow world={world} />}
          {shows('armed') && <Armed world={world} />}
        </div>
      </div>
      <StageBoards world={world} hasPedals={shows('pedals')} hasMinors={shows('minors')} />
      <StageFoot hasSent={shows('sent')} />
      {isRehearsal && <RehearsePanel world={world} practising={practising} />}
    </main>
  );
}

function SongTime({ lengthS }: { lengthS: number }) {
  const { songStartedAtMs } = useLiveState('songStartedAtMs');
  return <SongClock startedAtMs={songStartedAtMs} lengthS={lengthS} />;
}

/** The scene in play, or the break that the set stands in. */
function SceneNow({ world }: { world: World }) {
  const place = usePlace();
  const pause = usePause(world);
  const { songIndex, sceneIndex } = place;
  const song = nth(world.songs, songIndex).song;
  const now = pause === null && sceneIndex !== null ? song.scenes[sceneIndex] : null;
  const part =
    pause !== null || place.partIndex === null
      ? undefined
      : nth(world.songs, songIndex).parts[place.partIndex];
  const name = pause?.name ?? (part ? partName(song, part) : now?.name);
  const remark = pause
    ? pause.kind === 'encore'
      ? 'the planned end; on goes to the encore'
      : `planned ${minutes(pause.lengthS)}`
    : [now?.remark, part?.remark].filter(Boolean).join(' · ');
  const isLit = now !== null || pause !== null;
  return (
    <div className="stage-now framed" data-testid="stage-now">
      <Corners />
      <Cloth large lit={isLit} className="now-cloth" text="" />
      <span className={`now-text ${isLit ? '' : 'waiting'} ${remark ? 'with-remark' : ''}`}>
        <FitText text={name ?? 'ready'} max={remark ? 170 : 230} min={60} />
      </span>
      {remark && <p className="stage-remark">{remark}</p>}
      <CountInNow />
    </div>
  );
}

/** What the next step leads to; a touch takes it. */
function Next({ world }: { world: World }) {
  const host = useLiveHost();
  const place = usePlace();
  const { run, position } = useLiveState('run', 'position');
  const ahead = run && nextThing(world, { run, position });
  const after = ahead ? aheadWords(world, ahead) : nextScene(world, place);
  const isWaiting = !run && place.sceneIndex === null;
  const planned = nextStep(usePlanSteps(world), world, { position });
  const step = ahead?.kind === 'pause' || ahead?.kind === 'end' ? '' : planned;
  return (
    <div className="stage-next">
      <small>
        {isWaiting ? 'begins with' : after.isNextSong ? `next song, ${after.song}` : 'next'}
        {!after.isNextSong && <InBars world={world} place={place} />}
      </small>
      <button
        type="button"
        className="next-button"
        onClick={() => host.command(run ? { kind: 'show', to: 'next' } : { kind: 'scene', to: 'next' })}
        disabled={after.name === null}
      >
        <Cloth large lit={false} className="next-cloth" text="" />
        <span className="next-text">
          <FitText text={after.name ?? 'end of the set'} max={84} min={36} />
        </span>
      </button>
      {step && <small className="plan-step">{step}</small>}
    </div>
  );
}

function TempoNow({ world }: { world: World }) {
  const { tempo } = useLiveState('tempo');
  const songIndex = useSongIndex();
  return (
    <div className="stage-tempo">
      <span>
        <span className="num">{tempo.bpm}</span> <small>bpm</small>
      </span>
      <Beats tempo={tempo} className="stage-beats" />
      <StageBar world={world} songIndex={songIndex} />
    </div>
  );
}

type After = { name: string | null; isNextSong: boolean; song: string };

/** The next thing of a set that runs. */
function aheadWords(world: World, ahead: Ahead): After {
  switch (ahead.kind) {
    case 'pause':
      return { name: ahead.pause.name, isNextSong: false, song: '' };
    case 'end':
      return { name: 'end the set', isNextSong: false, song: '' };
    case 'song': {
      const { name } = nth(world.songs, ahead.songIndex).song;
      return { name, isNextSong: true, song: name };
    }
    case 'part': {
      const { song, parts } = nth(world.songs, ahead.songIndex);
      return {
        name: partName(song, nth(parts, ahead.partIndex)),
        isNextSong: ahead.partIndex === 0,
        song: song.name,
      };
    }
  }
}

const ARMING_WORDS = { none: 'none', unknown: 'not known', away: 'host packed away' } as const;

/** Tracks that listen now. */
function Armed({ world }: { world: World }) {
  const known = useLiveState('registers', 'pending');
  const armed = armedTracks(world, known);
  const told = armingNow(world, known);
  return (
    <div className="stage-armed" data-testid="stage-armed">
      <small>armed</small>
      {armed.length === 0 && <span className="none">{ARMING_WORDS[told]}</span>}
      {armed.map(({ device, track }) => (
        <span key={`${device.id}/${track}`}>
          <TapeMark mark={device.mark} size={34} name={device.name} />
          {track}
        </span>
      ))}
    </div>
  );
}

/** What the next press of "next" leads to. */
function nextScene(world: World, { songIndex, partIndex }: Place): After {
  const { song, parts } = nth(world.songs, songIndex);
  const next = parts[partIndex === null ? 0 : partIndex + 1];
  if (next) return { name: partName(song, next), isNextSong: false, song: song.name };
  const following = world.songs[songIndex + 1];
  const first = following?.parts[0];
  return {
    name: following ? (first ? partName(following.song, first) : following.song.name) : null,
    isNextSong: true,
    song: following?.song.name ?? '',
  };
}
