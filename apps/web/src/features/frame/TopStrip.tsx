import type { World } from '@idle-step/core/engine';
import { ChevronLeft, ChevronRight, Hand, Moon, OctagonX, Sun } from 'lucide-react';
import { Button } from 'react-bootstrap';
import { Link } from 'react-router-dom';
import { useRig, useSetList } from '../../drafts/useDocs';
import {
  useIsShown,
  useLiveHost,
  useLiveOf,
  useLiveState,
  usePlace,
  useSongIndex,
  useWorld,
} from '../../live/use/useLive';
import { useChosenSet } from '../../live/use/useShow';
import { useAppDispatch, useAppSelector } from '../../store';
import { Cloth } from '../../ui/Cloth';
import { Pick } from '../../ui/Fields';
import { IconButton } from '../../ui/IconButton';
import { Beats } from '../../boards/Beats';
import { PortsWord } from './PortsWord';
import { screenChanged } from '../../screen/screenSlice';

/** Where I am, beat and tempo, ports, panic. */
export function TopStrip() {
  const host = useLiveHost();
  const { tempo } = useLiveState('tempo');
  return (
    <header className="strip">
      <Link className="wordmark" to="/rig">
        idle step
      </Link>
      <Where />
      <span className="gap" />
      <div className="tempo">
        <Beats tempo={tempo} />
        <span className="num" data-testid="tempo">
          {tempo.bpm}
        </span>
        <span className="muted">bpm</span>
        <Button variant="quiet" onClick={() => host.command({ kind: 'tap' })}>
          Tap
        </Button>
      </div>
      <PortsWord />
      <HandsOff />
      <ThemeSwitch />
      <Button variant="panic" onClick={() => host.command({ kind: 'panic' })}>
        <OctagonX size={16} strokeWidth={1.75} aria-hidden="true" />
        Panic
      </Button>
    </header>
  );
}

/** Keeps everything from the real ports while one edits. */
function HandsOff() {
  const host = useLiveHost();
  const isOn = useLiveOf((live) => live.state.here['hands-off']);
  return (
    <Button
      variant="quiet"
      className={isOn ? 'hands-off' : ''}
      aria-pressed={isOn}
      title={isOn ? 'Nothing is sent to real ports' : 'Send nothing to real ports while editing'}
      onClick={() => host.command({ kind: 'here', thing: 'hands-off', to: 'toggle' })}
    >
      <Hand size={16} strokeWidth={1.75} aria-hidden="true" />
      Hands off
    </Button>
  );
}

/** Daylight for editing, blackout for a dark room. */
function ThemeSwitch() {
  const dispatch = useAppDispatch();
  const isDark = useAppSelector((s) => s.screen.theme === 'dark');
  return (
    <IconButton
      icon={isDark ? Sun : Moon}
      label={isDark ? 'Daylight' : 'Blackout'}
      onClick={() => dispatch(screenChanged({ theme: isDark ? 'light' : 'dark' }))}
    />
  );
}

function Where() {
  const host = useLiveHost();
  const dispatch = useAppDispatch();
  const world = useWorld();
  const { rig } = useRig();
  const sets = useSetList(rig?.id).items;
  const set = useChosenSet(sets);
  const isShown = useIsShown(rig?.id);
  const songIndex = useSongIndex();
  const song = world.songs[songIndex]?.song;
  return (
    <nav className="where" aria-label="Where I am">
      {rig && (
        <Link className="rig-name" to="/rigs" title="All rigs">
          {rig.name}
        </Link>
      )}
      <IconButton
        line
        icon={ChevronLeft}
        label="Previous scene"
        onClick={() => host.command({ kind: 'scene', to: 'previous' })}
      />
      <IconButton
        line
        icon={ChevronRight}
        label="Next scene"
        onClick={() => host.command({ kind: 'scene', to: 'next' })}
      />
      {set && (
        <Pick
          hideLabel
          label="Set in play"
          value={set.id}
          options={sets.map((s) => ({ value: s.id, text: s.name }))}
          onPick={(setId) => dispatch(screenChanged({ setId }))}
        />
      )}
      {song ? (
        <>
          <span className="muted">/</span>
          <span>
            <span className="muted">
              <span className="num">{songIndex + 1}</span> of{' '}
              <span className="num">{world.songs.length}</span>
            </span>{' '}
            <b>{song.name}</b>
          </span>
          <span className="muted">/</span>
          <SceneInPlay world={world} />
        </>
      ) : (
        <span className="muted">{rig && !isShown ? 'Fetching …' : 'no songs yet'}</span>
      )}
    </nav>
  );
}

function SceneInPlay({ world }: { world: World }) {
  const { songIndex, sceneIndex } = usePlace();
  const scene = sceneIndex === null ? undefined : world.songs[songIndex]?.song.scenes[sceneIndex];
  return (
    <span className="scene-in-play" title={scene?.name}>
      <span className="own-box">
        {scene ? <Cloth text={scene.name} /> : <span className="muted">not begun</span>}
      </span>
    </span>
  );
}
