import { shownText, type Device } from '@idle-step/core/gear';
import {
  PROCESSOR_BLOCKS,
  tracksSounding,
  type StandInState,
  type StringProcessorState,
  type TrackHostState,
} from '@idle-step/core/standins';
import { Volume2, VolumeX } from 'lucide-react';
import { useLiveHost, useLiveOf } from '../live/use/useLive';
import { BackingPanel, LightsPanel, LooperPanel, MixerPanel, PadsPanel } from './GearPanels';
import { IconButton } from '../ui/IconButton';
import { TapeMark } from '../ui/TapeMark';

/** Simulated gear at work: what it is now, after everything that was sent to it. */
export function StandInPanel({
  device,
  withSound = true,
}: {
  device: Device;
  /** With the switch that lets all stand-ins be heard: once is enough where several stand together. */
  withSound?: boolean;
}) {
  const standIn = useLiveOf((live) => live.standIns.get(device.id));
  if (!standIn) return null;
  return (
    <section className={`stand-in t-${device.mark.colour}`} aria-label={`Stand-in of ${device.name}`}>
      <header>
        <TapeMark mark={device.mark} size={18} />
        <span className="device-name">{device.name}</span>
        <span className="small muted">stand-in</span>
        {withSound && <SoundSwitch />}
      </header>
      <Panel device={device} standIn={standIn} />
    </section>
  );
}

/** All stand-ins are heard or none: one browser has one pair of loudspeakers. */
function SoundSwitch() {
  const host = useLiveHost();
  const isHeard = useLiveOf((live) => live.isHeard);
  return (
    <IconButton
      icon={isHeard ? Volume2 : VolumeX}
      label={isHeard ? 'Silence the stand-ins' : 'Hear the stand-ins'}
      pressed={isHeard}
      onClick={() => host.hearStandIns(!isHeard)}
    />
  );
}

function Panel({ device, standIn }: { device: Device; standIn: StandInState }) {
  switch (standIn.kind) {
    case 'string-processor':
      return <Processor device={device} state={standIn.state} />;
    case 'track-host':
      return <TrackHost device={device} state={standIn.state} />;
    case 'looper':
      return <LooperPanel state={standIn.state} />;
    case 'mixer':
      return <MixerPanel state={standIn.state} />;
    case 'pad-instrument':
      return <PadsPanel state={standIn.state} />;
    case 'backing-player':
      return <BackingPanel state={standIn.state} />;
    case 'lights':
      return (
        <LightsPanel state={standIn.state} lookName={named(device, 'program', standIn.state.look ?? 0)} />
      );
  }
}

function Processor({ device, state }: { device: Device; state: StringProcessorState }) {
  return (
    <div className="stand-in-body">
      <Figure name="Program" text={named(device, 'program', state.program)} />
      <Figure name="Snapshot" text={named(device, 'choice', state.snapshot)} />
      <span className="stand-in-blocks">
        {PROCESSOR_BLOCKS.map((name, i) => (
          <span
            key={name}
            className={state.blocks[i] ? 'block on' : 'block'}
            aria-label={`${name} ${state.blocks[i] ? 'on' : 'off'}`}
          >
            {name}
          </span>
        ))}
      </span>
      <Bar name="Volume" value={state.volume} />
      <Bar name="Drive" value={state.drive} />
      <Bar name="Reverb" value={state.reverbMix} />
      {state.said !== '' && <span className="small muted gear-said">{state.said}</span>}
      {state.missed > 0 && (
        <span className="small text-danger">{state.missed} lost while it was loading a program</span>
      )}
    </div>
  );
}

function TrackHost({ device, state }: { device: Device; state: TrackHostState }) {
  const nameOf = (i: number) =>
    device.chart.find((f) => f.drive.kind === 'record-ready' && f.drive.track === i + 1)?.arms;
  const sounding = new Set(state.notes.flatMap((n) => tracksSounding(state, n.channel)));
  return (
    <div className="stand-in-body">
      <Figure name="Transport" text={state.transport} />
      <span className="stand-in-tracks">
        {state.tracks.map((track, i) => (
          <span key={i} className="own-box" title={`${nameOf(i) ?? i + 1} ${trackWords(track)}`.trim()}>
            <span
              className={`track ${track.armed ? 'armed' : ''} ${track.muted ? 'muted-track' : ''} ${sounding.has(i) ? 'sounds' : ''}`}
              aria-label={`${nameOf(i) ?? `Track ${i + 1}`}: ${track.armed ? 'armed' : 'not armed'}${track.muted ? ', muted' : ''}, level ${track.level}`}
            >
              <span className="track-name">{nameOf(i) ?? i + 1}</span>
              <span className="track-level">
                <b style={{ height: `${(track.level / 127) * 100}%` }} />
              </span>
              <span className="track-words">{trackWords(track)}</span>
            </span>
          </span>
        ))}
      </span>
      {state.said !== '' && <span className="small muted gear-said">{state.said}</span>}
    </div>
  );
}

const trackWords = (track: TrackHostState['tracks'][number]): string =>
  [track.armed && 'arm', track.monitor === 'in' && 'mon', track.muted && 'mute', track.solo && 'solo']
    .filter(Boolean)
    .join(' ');

function Figure({ name, text }: { name: string; text: string }) {
  return (
    <span className="stand-in-figure" data-figure={name}>
      <span className="small muted">{name}</span>
      <b className="own-box" title={text}>
        {text}
      </b>
    </span>
  );
}

function Bar({ name, value }: { name: string; value: number }) {
  return (
    <span className="stand-in-bar" data-figure={name}>
      <span className="small muted">{name}</span>
      <span className="bar-room">
        <b style={{ transform: `scaleX(${value / 127})` }} />
      </span>
      <span className="num small own-box">{value}</span>
    </span>
  );
}

/** A value in the words of the device's chart, by the first function of a kind. */
function named(device: Device, kind: 'program' | 'choice', value: number): string {
  const fn = device.chart.find((f) => f.shape.kind === kind);
  return fn ? shownText(device, fn, value) : String(value);
}
