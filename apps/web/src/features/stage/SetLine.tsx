import { pauseNow, setClock, type Pause, type World } from '@idle-step/core/engine';
import { ListChecks, RotateCw, X } from 'lucide-react';
import { useEffect, useState } from 'react';
import { Button } from 'react-bootstrap';
import { useIsAside, useLiveHost, useLiveOf, useLiveState } from '../../live/use/useLive';
import { useLineCheck } from '../../check/useLineCheck';
import { IconButton } from '../../ui/IconButton';
import { minutes, timeOfDay } from '../../words/times';
import type { Following } from './useFollow';
import { useReadiness } from './useReadiness';

/** The set: what is missing before it begins, how it stands in time while it runs, and that the page was away. */
export function SetLine({ world, following }: { world: World; following: Following }) {
  const host = useLiveHost();
  const { run } = useLiveState('run');
  const isSceneEdited = useLiveOf((live) => live.isSceneEdited);
  const awayMs = useLiveOf((live) => live.awayMs);
  const isAside = useIsAside();
  if (isAside)
    return (
      <div className="stage-set" role="status">
        <Button variant="go" onClick={() => host.otherWindow?.playHere()}>
          Play here
        </Button>
        <Button variant="quiet" onClick={() => following.want(!following.isWanted)}>
          {following.isWanted ? 'Stop following' : 'Follow it'}
        </Button>
        <span className={following.isOn ? '' : 'over'}>
          {following.isOn
            ? 'Shows what another window plays; nothing is sent from here.'
            : following.isWanted
              ? 'Another window plays and does not say where it stands yet.'
              : 'Another window plays: feet and gear are its own.'}
        </span>
      </div>
    );
  if (isSceneEdited)
    return (
      <div className="stage-set" role="status">
        <span className="told">This scene was edited since it was sent.</span>
        <Button variant="go" onClick={() => host.command({ kind: 'scene', to: 'again' })}>
          <RotateCw size={16} aria-hidden="true" />
          Send it again
        </Button>
        <IconButton icon={X} label="Leave it as it was sent" onClick={() => host.setEditAside()} />
      </div>
    );
  if (awayMs !== null)
    return (
      <div className="stage-set" role="status">
        <span className="told">
          Back after{' '}
          {awayMs < 90_000 ? `${Math.max(1, Math.round(awayMs / 1000))} s` : minutes(awayMs / 1000)}; nothing
          was sent.
        </span>
        <Button variant="quiet" onClick={() => host.command({ kind: 'scene', to: 'again' })}>
          <RotateCw size={16} aria-hidden="true" />
          Send the scene again
        </Button>
        <IconButton icon={X} label="Leave it as it is" onClick={() => host.setAwayAside()} />
      </div>
    );
  return run ? <SetTime world={world} /> : <BeforeSet world={world} />;
}

/** Drawn anew once a second. */
function useSeconds(): number {
  const host = useLiveHost();
  const [nowMs, setNowMs] = useState(() => host.clock());
  useEffect(() => {
    const timer = window.setInterval(() => setNowMs(host.clock()), 1000);
    return () => window.clearInterval(timer);
  }, [host]);
  return nowMs;
}

function SetTime({ world }: { world: World }) {
  const nowMs = useSeconds();
  const state = useLiveState('run', 'position', 'songStartedAtMs');
  const { goneS, leftS, overS } = setClock(world, state, Math.max(nowMs, state.run?.startedAtMs ?? 0));
  const over = Math.round(overS);
  return (
    <div className="stage-set" data-testid="stage-set">
      <span>
        set <span className="num">{minutes(goneS)}</span> gone
      </span>
      <span>
        <span className="num">{minutes(leftS)}</span> left
      </span>
      <span className={over > 0 ? 'over' : ''}>
        {Math.abs(over) < 5 ? (
          'in time'
        ) : (
          <>
            <span className="num">{minutes(Math.abs(over))}</span> {over > 0 ? 'over' : 'under'}
          </>
        )}
      </span>
      <span className="gap" />
      <span className="num">{timeOfDay(new Date())}</span>
    </div>
  );
}

function BeforeSet({ world }: { world: World }) {
  const host = useLiveHost();
  const checks = useReadiness();
  const missing = checks.filter((c) => c.isMissing);
  const check = useLineCheck();
  const isChecking = check !== null && !check.isDone;
  const [refusal, setRefusal] = useState<string | null>(null);
  if (world.songs.length === 0) return null;
  return (
    <div className="stage-set" data-testid="before-set">
      <Button variant="go" onClick={() => host.command({ kind: 'show', to: 'begin' })}>
        Begin the set
      </Button>
      <span className={missing.length > 0 || refusal !== null ? 'over' : 'ok'} role="status">
        {refusal !== null
          ? refusal
          : missing.length > 0
            ? missing.map((c) => c.words).join(' ')
            : `Ready: ${checks.map((c) => c.words).join(', ')}.`}
      </span>
      <span className="gap" />
      <Button
        variant="quiet"
        disabled={isChecking}
        title="Press everything once that this set uses, and see whether it is right"
        onClick={() => setRefusal(host.lineCheck.start('in-order', true))}
      >
        <ListChecks size={16} aria-hidden="true" />
        Line check
      </Button>
    </div>
  );
}

/** What stands large: the break in which a set is, with what is left of it. */
export function usePause(world: World): Pause | null {
  const { run } = useLiveState('run');
  return pauseNow(world, run);
}
