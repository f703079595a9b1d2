import { partName } from '@idle-step/core/show';
import { armedTracks, type Place, type World } from '@idle-step/core/engine';
import { useEffect } from 'react';
import { Link } from 'react-router-dom';
import { useRig } from '../../drafts/useDocs';
import { useLiveHost, useLiveState, usePlace, useWorld } from '../../live/useLive';
import { useAppSelector } from '../../store';
import { Cloth } from '../../ui/Cloth';
import { Corners } from '../../ui/Corners';
import { FitText } from '../../ui/FitText';
import { TapeMark } from '../../ui/TapeMark';
import { Beats } from '../../ui/Beats';
import { StageBoards } from './StageBoards';
import { StageFoot } from './StageFoot';
import { InBars, StageBar } from './StageLine';
import { SongClock } from './SongClock';
import { useStageKeys } from './useStageKeys';
import { useWakeLock } from './useWakeLock';

/** Playing: read from two metres, no frame around it. */
export function StagePlace() {
  const theme = useAppSelector((s) => s.screen.stageTheme);
  const { rig, isLoading } = useRig();
  const world = useWorld();
  const { songIndex } = usePlace();
  useStageKeys();
  useWakeLock();
  useEffect(() => {
    document.documentElement.dataset['bsTheme'] = theme;
  }, [theme]);
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
    <main className="stage">
      <header className="stage-head">
        <h1>
          <FitText text={song.name} max={72} min={40} byHeight={false} />
        </h1>
        <span className="stage-where">
          <span className="num">{songIndex + 1}</span> of <span className="num">{world.songs.length}</span>
          {world.show.setName ? `, ${world.show.setName}` : ''}
        </span>
        <SongTime lengthS={world.songs[songIndex]!.lengthS} />
      </header>
      <NowAndNext world={world} />
      <StageBoards world={world} />
      <StageFoot />
    </main>
  );
}

function SongTime({ lengthS }: { lengthS: number }) {
  const { songStartedAtMs } = useLiveState('songStartedAtMs');
  return <SongClock startedAtMs={songStartedAtMs} lengthS={lengthS} />;
}

function NowAndNext({ world }: { world: World }) {
  const host = useLiveHost();
  const { tempo } = useLiveState('tempo');
  const place = usePlace();
  const { songIndex, sceneIndex } = place;
  const song = world.songs[songIndex]!.song;
  const now = sceneIndex === null ? null : song.scenes[sceneIndex];
  const part = place.partIndex === null ? undefined : world.songs[songIndex]!.parts[place.partIndex];
  const name = part ? partName(song, part) : now?.name;
  const remark = [now?.remark, part?.remark].filter(Boolean).join(' · ');
  const after = nextScene(world, place);
  return (
    <div className="stage-middle">
      <div className="stage-now framed" data-testid="stage-now">
        <Corners />
        <Cloth large lit={now !== null} className="now-cloth" text="" />
        <span className={`now-text ${now ? '' : 'waiting'} ${remark ? 'with-remark' : ''}`}>
          <FitText text={name ?? 'ready'} max={remark ? 170 : 230} min={60} />
        </span>
        {remark && <p className="stage-remark">{remark}</p>}
      </div>
      <div className="stage-side">
        <div className="stage-next">
          <small>
            {now === null ? 'begins with' : after.isNextSong ? `next song, ${after.song}` : 'next'}
            {!after.isNextSong && <InBars world={world} place={place} />}
          </small>
          <button
            type="button"
            className="next-button"
            onClick={() => host.command({ kind: 'scene', to: 'next' })}
            disabled={after.name === null}
          >
            <Cloth large lit={false} className="next-cloth" text="" />
            <span className="next-text">
              <FitText text={after.name ?? 'end of the set'} max={84} min={36} />
            </span>
          </button>
        </div>
        <div className="stage-tempo">
          <span>
            <span className="num">{tempo.bpm}</span> <small>bpm</small>
          </span>
          <Beats tempo={tempo} className="stage-beats" />
          <StageBar world={world} songIndex={songIndex} />
        </div>
        <Armed world={world} />
      </div>
    </div>
  );
}

/** Tracks that listen now. */
function Armed({ world }: { world: World }) {
  const { values } = useLiveState('values');
  const armed = armedTracks(world, { values });
  return (
    <div className="stage-armed" data-testid="stage-armed">
      <small>armed</small>
      {armed.length === 0 && <span className="none">none</span>}
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
function nextScene(
  world: World,
  { songIndex, partIndex }: Place,
): { name: string | null; isNextSong: boolean; song: string } {
  const { song, parts } = world.songs[songIndex]!;
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
