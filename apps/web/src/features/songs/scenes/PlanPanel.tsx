import { type FullRig, portName } from '@idle-step/core/routing';
import type { Song } from '@idle-step/core/show';
import { scenePlan, type SendReason } from '@idle-step/core/engine';
import { shownText } from '@idle-step/core/gear';
import { encode, hex } from '@idle-step/core/midi';
import { milliseconds } from '@idle-step/core/proof';
import { useMemo, useState } from 'react';
import { useWorld } from '../../../live/use/useLive';
import { Cloth } from '../../../ui/Cloth';
import { Pick } from '../../../ui/Fields';
import { TapeMark } from '../../../ui/TapeMark';
import { counted } from '../../../words/counted';
import { got, nth } from '@idle-step/core/sure';

const REASONS: Record<SendReason, string> = {
  changed: 'changed',
  unknown: 'not known before',
  reloaded: 'a program was loaded',
  triggered: 'a trigger of this scene',
  asked: 'everything asked for',
};
const NOWHERE = -1;

/** Everything that is sent on the way from one scene to another, message by message. */
export function PlanPanel({ rig, song, to }: { rig: FullRig; song: Song; to: number }) {
  const world = useWorld();
  const [from, setFrom] = useState(to > 0 ? to - 1 : NOWHERE);
  const [mode, setMode] = useState<'changes' | 'all'>('changes');
  const known = from < song.scenes.length ? from : NOWHERE;
  const plan = useMemo(
    () => scenePlan(world, song, known === NOWHERE ? null : known, to, mode),
    [world, song, known, to, mode],
  );
  const { lines, standsAtMs, wireMs, unreached } = plan;
  const loading = [...plan.loading].flatMap((id) => world.ways.get(id)?.device.name ?? []);
  return (
    <section className="recall-plan" aria-label="Recall plan">
      <div className="place-head">
        <h2>Recall plan</h2>
        <Pick
          hideLabel
          label="From"
          value={known}
          options={[
            { value: NOWHERE, text: 'nothing known' },
            ...song.scenes.map((s, i) => ({ value: i, text: `from ${s.name}` })),
          ]}
          onPick={(i) => setFrom(Number(i))}
        />
        <span>to</span>
        <Cloth text={nth(song.scenes, to).name} />
        <Pick
          hideLabel
          label="What is sent"
          value={mode}
          options={[
            { value: 'changes', text: 'changes only' },
            { value: 'all', text: 'everything' },
          ]}
          onPick={(m) => setMode(m)}
        />
        <span className="gap" />
        <span className="muted">
          {lines.length} {lines.length === 1 ? 'message' : 'messages'}, the whole rig stands after{' '}
          <b>{milliseconds(Math.round(standsAtMs * 100) / 100)}</b>
        </span>
      </div>
      {lines.length === 0 ? (
        <p className="muted">Nothing is sent: everything is so already.</p>
      ) : (
        <table className="plan-lines">
          <thead>
            <tr>
              <th scope="col">At</th>
              <th scope="col">Device</th>
              <th scope="col">Becomes</th>
              <th scope="col">Bytes</th>
              <th scope="col">Out</th>
              <th scope="col">Takes</th>
              <th scope="col">Why</th>
            </tr>
          </thead>
          <tbody>
            {lines.map((line) => {
              const { fn } = got(world.functions, line.functionId);
              return (
                <tr key={line.functionId}>
                  <td className="num">{milliseconds(Math.round(line.atMs * 100) / 100)}</td>
                  <td>
                    <span className="plan-device">
                      <TapeMark mark={line.device.mark} /> {line.device.name}
                    </span>
                  </td>
                  <td>
                    {fn.name} <b>{shownText(line.device, fn, line.value)}</b>
                  </td>
                  <td className="bytes">{line.messages.map((m) => hex(encode(m))).join(' · ')}</td>
                  <td className="muted">{portName(rig, line.portId)}</td>
                  <td className="num">{line.wireMs > 0 ? milliseconds(line.wireMs) : 'at once'}</td>
                  <td className="muted">{REASONS[line.reason]}</td>
                </tr>
              );
            })}
          </tbody>
        </table>
      )}
      <p className="small muted">
        {[...wireMs]
          .filter(([, ms]) => ms > 0)
          .map(
            ([portId, ms]) =>
              `${portName(rig, portId)} is busy for ${milliseconds(Math.round(ms * 100) / 100)}`,
          )
          .join('. ')}
        {nth(song.scenes, to).transition &&
          ' Ranges glide to the values above over the time of the transition'}
        {nth(song.scenes, to).transition &&
          (loading.length > 0
            ? `, except those of ${loading.join(' and ')}, which loads a program: they are set at once after it.`
            : '.')}
        {unreached.length > 0 &&
          ` ${counted(unreached.length, 'function is', 'functions are')} reached by no cable.`}
      </p>
    </section>
  );
}
