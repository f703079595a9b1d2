import type { World } from '@idle-step/core/engine';
import { Metronome as MetronomeSign, Play, SkipBack, Square, X } from 'lucide-react';
import { useEffect, useState } from 'react';
import { Button } from 'react-bootstrap';
import { useNavigate } from 'react-router-dom';
import { StandInPanel } from '../../gear/StandInPanel';
import { setPace } from '../../live/liveTime';
import { useLiveHost, useLiveOf, useLiveState, useSongIndex } from '../../live/use/useLive';
import { Pick } from '../../ui/Fields';
import { IconButton } from '../../ui/IconButton';
import { PractiseTable } from './PractiseTable';
import type { Practising } from './usePractise';

const PACES = [
  { value: '1', text: 'as it is played' },
  { value: '0.75', text: 'three quarters' },
  { value: '0.5', text: 'half' },
  { value: '0.25', text: 'a quarter' },
  { value: '2', text: 'twice as fast' },
  { value: '20', text: 'twenty times as fast' },
] as const;

/** What one has beside the stage at home: the gear's stand-ins, a click, slow motion, and practising. */
export function RehearsePanel({ world, practising }: { world: World; practising: Practising }) {
  const host = useLiveHost();
  const navigate = useNavigate();
  const [pace, setPaceShown] = useState<(typeof PACES)[number]['value']>('1');
  const isClicking = useLiveOf(({ state }) => state.here.click);
  // A page that is left in slow motion would play the evening in it.
  useEffect(() => () => host.atPace(() => setPace(1)), [host]);
  const { line } = useLiveState('line');
  const songIndex = useSongIndex();
  const hasCues = (world.songs[songIndex]?.line.events.length ?? 0) > 0;
  const standIns = world.show.rig.devices.filter((d) => d.standIn);
  return (
    <aside className="rehearse" aria-label="Rehearse">
      <div className="place-head">
        <h2>Rehearse</h2>
        <span className="gap" />
        <IconButton icon={X} label="Back to the stage alone" onClick={() => void navigate('/stage')} />
      </div>
      <div className="rehearse-tools">
        <Button
          variant={isClicking ? 'go' : 'quiet'}
          aria-pressed={isClicking}
          onClick={() => host.command({ kind: 'here', thing: 'click', to: 'toggle' })}
        >
          <MetronomeSign size={16} aria-hidden="true" />
          Click
        </Button>
        <Pick
          label="Goes"
          value={pace}
          options={PACES}
          onPick={(value) => {
            host.atPace(() => setPace(Number(value)));
            setPaceShown(value);
          }}
        />
      </div>
      {hasCues && (
        <div className="rehearse-tools" role="group" aria-label="Time line">
          <span className="muted">Time line</span>
          <IconButton
            icon={SkipBack}
            label="Play it from the beginning"
            onClick={() => host.command({ kind: 'line', to: 'start' })}
          />
          <IconButton
            icon={line?.isRunning ? Square : Play}
            label={line?.isRunning ? 'Stop it' : 'Play on from here'}
            onClick={() => host.command({ kind: 'line', to: line?.isRunning ? 'stop' : 'continue' })}
          />
        </div>
      )}
      <PractiseTable world={world} practising={practising} />
      {standIns.map((device, i) => (
        <StandInPanel key={device.id} device={device} withSound={i === 0} />
      ))}
      {standIns.length === 0 && (
        <p className="small muted">
          No device of this rig has a stand-in. One is chosen in Rig, where a device is described.
        </p>
      )}
    </aside>
  );
}
