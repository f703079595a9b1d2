import { bankIndex } from '@idle-step/core/engine';
import { describeMessage } from '@idle-step/core/midi';
import { memo, useState } from 'react';
import {
  CircleCheck,
  CloudOff,
  GraduationCap,
  Hand,
  LogOut,
  Maximize,
  Moon,
  OctagonX,
  RotateCw,
  Settings2,
  Sun,
  Unplug,
} from 'lucide-react';
import { Button } from 'react-bootstrap';
import { useMatch, useNavigate } from 'react-router-dom';
import { milliseconds } from '@idle-step/core/proof';
import { useLiveHost, useLiveOf, useLiveState, useWorld } from '../../live/use/useLive';
import { useAppSelector } from '../../store';
import { useSavingIsOff } from '../../documents/SavingOff';
import { StageLook } from './StageLook';

/** Small print of the stage: ports, bank, settling, saving; and the few things that are pressed by hand. */
export function StageFoot({ hasSent }: { hasSent: boolean }) {
  const host = useLiveHost();
  const savingIsOff = useSavingIsOff();
  const world = useWorld();
  const state = useLiveState('banks', 'pages');
  const lastRecallMs = useLiveOf((live) => live.lastRecallMs);
  const said = useLiveOf((live) => live.said);
  const isHandsOff = useLiveOf((live) => live.state.here['hands-off']);
  const first = world.boards[0];
  const at = first ? bankIndex(first, state) : 0;
  const bank = first?.banks[at]?.bank;
  return (
    <footer className="stage-foot">
      <PortsWord />
      {bank && (
        <span>
          Bank {at + 1} {bank.name}
        </span>
      )}
      {/* What is said is said alone: beside the rest there is no room to read it. */}
      {said !== null ? (
        <span className="told">{said}</span>
      ) : (
        <>
          {lastRecallMs !== null && <span>settled in {milliseconds(Math.round(lastRecallMs))}</span>}
          {hasSent && <LastSent />}
        </>
      )}
      {isHandsOff && (
        <span className="bad" role="status">
          <Hand size={16} aria-hidden="true" />
          Hands off: nothing is sent to real ports.
          <Button
            variant="quiet"
            onClick={() => host.command({ kind: 'here', thing: 'hands-off', to: 'off' })}
          >
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
      <FootTools />
    </footer>
  );
}

/** The few things that are pressed by hand. */
const FootTools = memo(function FootTools() {
  const [isLooking, setLooking] = useState(false);
  const host = useLiveHost();
  const navigate = useNavigate();
  const theme = useAppSelector((s) => s.screen.stageTheme);
  const isRehearsal = useMatch('/rehearse') !== null;
  return (
    <>
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
        aria-expanded={isLooking}
        onClick={() => setLooking(!isLooking)}
        title="Views, text sizes, and what is shown"
      >
        <Settings2 size={16} aria-hidden="true" />
        Look
      </Button>
      {!isRehearsal && (
        <Button
          variant="bare"
          onClick={() => void navigate('/rehearse')}
          title="The stage with the stand-ins beside it, a click, slow motion, and practising"
        >
          <GraduationCap size={16} aria-hidden="true" />
          Rehearse
        </Button>
      )}
      {isLooking && <StageLook onClose={() => setLooking(false)} />}
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
        onClick={() => host.command({ kind: 'here', thing: 'blackout', to: theme === 'dark' ? 'off' : 'on' })}
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
    </>
  );
});

/** The last message, whose it was, and whether it got out. */
function LastSent() {
  const host = useLiveHost();
  const world = useWorld();
  const line = useLiveOf(() => host.log.last('out'));
  if (!line) return null;
  const what = line.fn && line.device ? `${line.device.name} ${line.fn.name}` : (line.device?.name ?? '');
  const words = line.real ? 'out' : line.taken ? 'to the stand-in' : 'nobody took it';
  return (
    <span className={line.taken ? '' : 'bad'} data-testid="last-sent">
      {describeMessage(line.message, world.show.rig.middleC)}
      {what && `, ${what}`}: {words}
    </span>
  );
}

/** How the ports are: quiet while all that are bound are there. */
function PortsWord() {
  const host = useLiveHost();
  const status = useLiveOf((live) => live.portsStatus);
  const counts = useLiveOf((live) => live.portCounts);
  useLiveOf((live) => live.ports);
  if (status.kind === 'elsewhere')
    return (
      <span className="bad" role="status" data-testid="other-window">
        <Unplug size={16} aria-hidden="true" />
        Another window plays
      </span>
    );
  if (status.kind !== 'on')
    return (
      <span>
        <Unplug size={16} aria-hidden="true" />
        stand-ins only
      </span>
    );
  const { missing } = host.ports.boundPorts();
  if (missing.length > 0)
    return (
      <span className="bad" role="status" data-testid="ports-missing">
        <Unplug size={16} aria-hidden="true" />
        Not plugged in: {missing.join(', ')}
      </span>
    );
  if (counts.in + counts.out === 0)
    return (
      <span>
        <Unplug size={16} aria-hidden="true" />
        no port bound
      </span>
    );
  return (
    <span className="ok">
      <CircleCheck size={16} aria-hidden="true" />
      {counts.in} in, {counts.out} out
    </span>
  );
}
