import { type FullRig, portName } from '@idle-step/core/routing';

import { shownText, whoAnswers, type Seen } from '@idle-step/core/gear';
import { messageKey, type World } from '@idle-step/core/engine';
import { describeMessage, encode, hex, noteLabel, standardName } from '@idle-step/core/midi';
import { Ear, X } from 'lucide-react';
import { useEffect } from 'react';
import { useLiveHost, useLiveOf, useWorld } from '../../live/use/useLive';
import { unboundName } from '../../live/ports/unboundInput';
import { IconButton } from '../../ui/IconButton';
import { TapeMark } from '../../ui/TapeMark';
import { counted } from '../../words/counted';

/** Things told at once; the last touched comes first. */
const TOLD = 6;

/** Press or turn anything on real or simulated gear: what it is, where it arrives, and what would answer. */
export function WhatIsThis({ rig, onClose }: { rig: FullRig; onClose(): void }) {
  const host = useLiveHost();
  const seen = useLiveOf((live) => live.seen);
  useEffect(() => {
    host.lookAround(true);
    return () => host.lookAround(false);
  }, [host]);
  return (
    <section className="side-sheet" aria-label="What is this?" aria-live="polite">
      <div className="place-head">
        <Ear size={18} aria-hidden="true" />
        <h2>What is this?</h2>
        <span className="muted">
          Press or turn anything: on the floor below, or on gear that is plugged in.
        </span>
        <span className="gap" />
        <IconButton icon={X} label="Stop looking" onClick={onClose} />
      </div>
      {(seen ?? []).length === 0 ? (
        <p className="muted">
          Nothing was touched yet. If a thing stays silent, the ports of this browser may not be open, or its
          port may not be enabled for learning.
        </p>
      ) : (
        <ol className="seen-list">
          {(seen ?? []).slice(0, TOLD).map((one) => (
            <SeenLine
              key={`${one.portId} ${one.kind} ${String(one.channel)} ${String(one.number)}`}
              rig={rig}
              seen={one}
            />
          ))}
        </ol>
      )}
    </section>
  );
}

function SeenLine({ rig, seen }: { rig: FullRig; seen: Seen }) {
  const world = useWorld();
  const control = world.inputs.get(seen.portId)?.get(messageKey(seen.last));
  const board = control && world.boards[control.boardIndex];
  const answers = whoAnswers(rig, seen.last);
  return (
    <li>
      <span className="seen-thing">
        {board ? <TapeMark mark={board.device.mark} size={16} name={board.device.name} /> : <span />}
        <b>{board ? `${board.device.name}, ${control.control.name}` : seenWords(seen, rig)}</b>
      </span>
      <span>
        {board ? `${seenWords(seen, rig)}, ` : ''}
        {arrivalWords(world.show.rig, seen.portId)}
      </span>
      <span className="num small">
        {rangeWords(seen)} · {hex(encode(seen.last))} · {describeMessage(seen.last, rig.middleC)}
      </span>
      <span className="small muted">
        {answers.length === 0
          ? 'No function of the rig answers to it.'
          : `Would answer: ${answers
              .map(({ device, fn, value }) =>
                `${device.name} ${fn.name} ${shownText(device, fn, value)}`.trim(),
              )
              .join('; ')}`}
      </span>
    </li>
  );
}

/** Example: `arrives at Crossbar In 1`. */
function arrivalWords(rig: World['show']['rig'], portId: string): string {
  const unbound = unboundName(portId);
  return unbound === null
    ? `arrives at ${portName(rig, portId)}`
    : `comes from “${unbound}”, to which no port of the rig is bound`;
}

/** Example: `controller 33, channel 16`. */
function seenWords(seen: Seen, rig: FullRig): string {
  const kind = seen.kind === 'note-on' ? 'note' : seen.kind.replaceAll('-', ' ');
  const number =
    seen.number === null
      ? ''
      : seen.kind === 'note-on' || seen.kind === 'poly-pressure'
        ? ` ${noteLabel(seen.number, rig.middleC)}`
        : ` ${seen.number}`;
  const name = standardName(seen.last);
  return `${kind}${number}${name ? ` (${name})` : ''}${seen.channel === null ? '' : `, channel ${seen.channel + 1}`}`;
}

const rangeWords = (seen: Seen): string =>
  seen.lowest === seen.highest
    ? `always ${seen.lowest}, ${seen.count} times`
    : `${seen.lowest} to ${seen.highest}, ${counted(seen.count, 'message')}`;
