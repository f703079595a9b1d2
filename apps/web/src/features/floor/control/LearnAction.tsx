import { type Action, learn, type Candidate, type Heard } from '@idle-step/core/floor';
import type { FullRig } from '@idle-step/core/routing';
import { isOneOf } from '@idle-step/core/sure';
import { shownText, valueBounds, whoAnswers } from '@idle-step/core/gear';
import { Ear } from 'lucide-react';
import { useEffect, useState } from 'react';
import { Button } from 'react-bootstrap';
import { useLiveHost, useLiveOf } from '../../../live/use/useLive';
import { newAction } from '../../../edits/presetEdits';
import { messageWords, sentWords } from '../../../boards/useLearn';

/** What an action can send, among what a control can send. */
const SENT_KINDS = ['note', 'controller', 'program'] as const;

type Offer = { readonly key: string; readonly text: string; readonly action: Action };

/** Learns an action from what is played: press the thing that already does it, and take what it sends. */
export function LearnAction({ rig, onLearned }: { rig: FullRig; onLearned(action: Action): void }) {
  const host = useLiveHost();
  const heard = useLiveOf((live) => live.heard);
  const [isOn, setOn] = useState(false);
  useEffect(() => {
    if (!isOn) return;
    host.learn(true);
    return () => host.learn(false);
  }, [host, isOn]);
  if (!isOn)
    return (
      <Button
        variant="bare"
        className="btn-icon"
        aria-label="Learn an action from what is played"
        title="Learn an action from what is played"
        onClick={() => setOn(true)}
      >
        <Ear size={16} strokeWidth={1.75} aria-hidden="true" />
      </Button>
    );
  const touched = heard
    ? [...learn(heard, 'footswitch'), ...learn(heard, 'expression-pedal')].filter(
        (c, i, all) => all.findIndex((o) => sentWords(o) === sentWords(c)) === i,
      )
    : [];
  const offers = touched.flatMap((c) => offersOf(rig, heard ?? [], c));
  const finish = (action: Action | null) => {
    setOn(false);
    if (action) onLearned(action);
  };
  return (
    <div className="learn-panel" role="group" aria-label="Learning an action">
      <p role="status">Play what this should send: press it on the gear itself, or on another controller.</p>
      {offers.length === 0 ? (
        <p className="small muted">Listening. Nothing has been heard yet.</p>
      ) : (
        <ul className="learn-candidates">
          {offers.map((o) => (
            <li key={o.key}>
              <span>{o.text}</span>
              <Button variant="quiet" onClick={() => finish(o.action)}>
                Send this
              </Button>
            </li>
          ))}
        </ul>
      )}
      <Button variant="bare" onClick={() => finish(null)}>
        Stop learning
      </Button>
    </div>
  );
}

/** What a message could be as an action: a function of a chart that answers to it, or the message by its number. */
function offersOf(rig: FullRig, heard: readonly Heard[], candidate: Candidate): Offer[] {
  const { sends, channel } = candidate;
  const messages = heard.flatMap((h) => ('message' in h ? h.message : []));
  const last = messages.findLast((message) => {
    if (!('channel' in message) || message.channel !== channel) return false;
    if (sends.kind === 'note')
      return message.kind === 'note-on' && message.note === sends.number && message.velocity > 0;
    if (sends.kind === 'program') return message.kind === 'program' && message.program === sends.number;
    return message.kind === 'controller' && message.controller === sends.number;
  });
  if (!last) return [];
  const answers: Offer[] = whoAnswers(rig, last).map(({ device, fn, value }) => {
    const { min } = valueBounds(fn.shape);
    const action =
      fn.shape.kind === 'switch'
        ? newAction({ kind: 'toggle', functionId: fn.id })
        : newAction({ kind: 'set', functionId: fn.id, value: fn.shape.kind === 'trigger' ? min : value });
    const what = fn.shape.kind === 'switch' ? 'toggle' : shownText(device, fn, value);
    return { key: fn.id, text: `${device.name} ${fn.name} ${what}`, action };
  });
  if (answers.length > 0) return answers;
  const device =
    rig.devices.find((d) => d.role === 'receiver' && d.channel === channel) ??
    rig.devices.find((d) => d.role === 'receiver');
  if (!device || !isOneOf(SENT_KINDS, sends.kind)) return [];
  const value = last.kind === 'note-on' ? last.velocity : last.kind === 'controller' ? last.value : 0;
  return [
    {
      key: sentWords(candidate),
      text: `${messageWords(sends)} on channel ${channel + 1}, to ${device.name}`,
      action: newAction({
        kind: 'message',
        deviceId: device.id,
        channel: device.channel === channel ? null : channel,
        send: sends.kind,
        number: sends.number,
        value,
      }),
    },
  ];
}
