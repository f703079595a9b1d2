import { bankIndex } from '@idle-step/core/engine';
import {
  CircleCheck,
  CloudOff,
  Hand,
  LogOut,
  Maximize,
  Moon,
  OctagonX,
  RotateCw,
  Sun,
  Unplug,
} from 'lucide-react';
import { Button } from 'react-bootstrap';
import { useNavigate } from 'react-router-dom';
import { milliseconds } from '@idle-step/core/proof';
import { useLiveHost, useLiveOf, useLiveState, useWorld } from '../../live/useLive';
import { useAppDispatch, useAppSelector } from '../../store';
import { useSavingIsOff } from '../../documents/SavingOff';
import { screenChanged } from '../../screen/screenSlice';

/** Small print of the stage: ports, bank, settling, saving; and the few things that are pressed by hand. */
export function StageFoot() {
  const host = useLiveHost();
  const dispatch = useAppDispatch();
  const navigate = useNavigate();
  const theme = useAppSelector((s) => s.screen.stageTheme);
  const savingIsOff = useSavingIsOff();
  const world = useWorld();
  const state = useLiveState('banks', 'pages');
  const lastRecallMs = useLiveOf((live) => live.lastRecallMs);
  const portsStatus = useLiveOf((live) => live.portsStatus);
  const portCounts = useLiveOf((live) => live.portCounts);
  const isHandsOff = useLiveOf((live) => live.isHandsOff);
  const first = world.boards[0];
  const at = first ? bankIndex(first, state) : 0;
  const bank = first?.banks[at]?.bank;
  return (
    <footer className="stage-foot">
      {portsStatus.kind === 'on' ? (
        <span className="ok">
          <CircleCheck size={16} aria-hidden="true" />
          {portCounts.in} in, {portCounts.out} out
        </span>
      ) : (
        <span>
          <Unplug size={16} aria-hidden="true" />
          stand-ins only
        </span>
      )}
      {bank && (
        <span>
          Bank {at + 1} {bank.name}
        </span>
      )}
      {lastRecallMs !== null && <span>settled in {milliseconds(Math.round(lastRecallMs))}</span>}
      <Trouble />
      {isHandsOff && (
        <span className="bad" role="status">
          <Hand size={16} aria-hidden="true" />
          Hands off: nothing is sent to real ports.
          <Button variant="quiet" onClick={() => host.setHandsOff(false)}>
            Open the ports
          </Button>
        </span>
      )}
      {savingIsOff && (
        <span className="bad" data-testid="saving-off" role="status">
          <CloudOff size={16} aria-hidden="true" />
          Saving is off: the server does not answer. Playing goes on.
        </span>
      )}
      <span className="gap" />
      <Button
        variant="bare"
        onClick={() => host.command({ kind: 'scene', to: 'again' })}
        title="Send everything of this scene again"
      >
        <RotateCw size={16} aria-hidden="true" />
        Send again
      </Button>
      <Button
        variant="bare"
        onClick={() => void document.documentElement.requestFullscreen()}
        aria-label="Full screen"
        title="Full screen"
      >
        <Maximize size={16} aria-hidden="true" />
      </Button>
      <Button
        variant="bare"
        aria-label={theme === 'dark' ? 'Daylight' : 'Blackout'}
        title={theme === 'dark' ? 'Daylight, for an open deck' : 'Blackout, for a dark stage'}
        onClick={() => dispatch(screenChanged({ stageTheme: theme === 'dark' ? 'light' : 'dark' }))}
      >
        {theme === 'dark' ? <Sun size={16} aria-hidden="true" /> : <Moon size={16} aria-hidden="true" />}
      </Button>
      <Button variant="bare" onClick={() => void navigate('/sets')} title="Leave the stage (Escape)">
        <LogOut size={16} aria-hidden="true" />
        Leave
      </Button>
      <Button variant="panic" onClick={() => host.command({ kind: 'panic' })}>
        <OctagonX size={16} aria-hidden="true" />
        Panic
      </Button>
    </footer>
  );
}

/** What was said last, as long as nothing else has happened since. */
function Trouble() {
  const host = useLiveHost();
  const last = useLiveOf(() => host.log.since(host.log.total - 1)[0]);
  if (last?.kind !== 'note' || last.code === 'recalled') return null;
  return <span className="told">{last.sentence}</span>;
}
