import type { ActionDoc } from '@idle-step/contract';
import { actionWire } from '@idle-step/core/engine';
import { functionOfAction, pressWaitMs, type Gesture, type GestureWants } from '@idle-step/core/floor';
import { shownText, type ChartFunction, type Device } from '@idle-step/core/gear';
import { hex } from '@idle-step/core/midi';
import { Layers, ListMusic, Metronome, Music2, OctagonX, Plus, Waves, X } from 'lucide-react';
import { useLive } from '../../live/useLive';
import { IconButton } from '../../ui/IconButton';
import { moved } from '../../ui/moved';
import { SortableList } from '../../ui/SortableList';
import { TapeMark } from '../../ui/TapeMark';
import { valueWords } from '../rig/chartWords';
import { ActionEditor } from './ActionEditor';
import { firstValue, newAction } from './presetEdits';
import type { World } from '@idle-step/core/engine';

type Props = {
  gesture: Gesture;
  /** What makes a press wait, and for how long. */
  wants: GestureWants;
  actions: readonly ActionDoc[];
  openId: string | null;
  onOpen(id: string | null): void;
  onChange(what: string, actions: ActionDoc[]): void;
};

const TITLE: Record<Gesture, string> = {
  press: 'Press',
  release: 'Release',
  hold: 'Hold',
  doublePress: 'Double press',
};
const HINT: Record<Gesture, string> = {
  press: 'Add what should happen when the foot comes down.',
  release: 'Add what should happen when the foot lifts.',
  hold: 'Add what should happen when the foot stays down.',
  doublePress: 'Add what should happen on two presses in a row; a single one then waits for the second.',
};

/** The ordered list of what a gesture causes; the action in hand is edited in its line. */
export function ActionList({ gesture, wants, actions, openId, onOpen, onChange }: Props) {
  const { world } = useLive();
  const add = () => {
    const action = firstAction(world);
    onChange('add an action', [...actions, action]);
    onOpen(action.id);
  };
  return (
    <section className={actions.length === 0 ? 'gesture none' : 'gesture'}>
      <header>
        <h2>{TITLE[gesture]}</h2>
        <span className="small muted">
          {actions.length === 0
            ? 'nothing'
            : `${actions.length} ${actions.length === 1 ? 'action' : 'actions'}${gesture === 'press' ? `, ${waitWords(wants)}` : ''}`}
        </span>
        <IconButton icon={Plus} label={`Add an action on ${TITLE[gesture].toLowerCase()}`} onClick={add} />
      </header>
      {actions.length === 0 && <p className="small muted">{HINT[gesture]}</p>}
      <SortableList
        items={actions}
        label={`${TITLE[gesture]}: actions in order`}
        nameOf={(a) => words(world, a).title}
        onMove={(from, to) => onChange('move an action', moved(actions, from, to))}
        classOf={(a) => `${a.id === openId ? 'open' : ''} ${a.isOff ? 'switched-off' : ''}`}
        render={(action, index, handle) => (
          <>
            <div className="action-line">
              {handle}
              <span className="num muted">{index + 1}</span>
              <ActionMark world={world} action={action} />
              <button
                type="button"
                className="action-open"
                aria-expanded={action.id === openId}
                onClick={() => onOpen(action.id === openId ? null : action.id)}
              >
                <span className="action-title">{words(world, action).title}</span>
                <span className="action-value">
                  {words(world, action).value}
                  <span className="muted">{delayWords(action)}</span>
                </span>
                <span className="bytes muted">{words(world, action).bytes}</span>
              </button>
              <IconButton
                icon={X}
                label={`Remove action ${index + 1}`}
                onClick={() =>
                  onChange(
                    'remove an action',
                    actions.filter((a) => a.id !== action.id),
                  )
                }
              />
            </div>
            {action.id === openId && (
              <ActionEditor
                action={action}
                onChange={(next) =>
                  onChange(
                    'change an action',
                    actions.map((a) => (a.id === action.id ? next : a)),
                  )
                }
              />
            )}
          </>
        )}
      />
    </section>
  );
}

/** Why and how long a press waits. Example: `waits 300 ms for a second press`. */
function waitWords(wants: GestureWants): string {
  const ms = pressWaitMs(wants);
  if (ms === null) return 'waits until you let go, since a hold takes its place';
  return ms === 0 ? 'waits 0 ms' : `waits ${ms} ms for a second press`;
}

/** A new action sets the first function of the rig; without one it goes to the next scene. */
function firstAction(world: World): ActionDoc {
  const first =
    [...world.functions.values()].find(({ fn }) => fn.shape.kind === 'choice') ??
    [...world.functions.values()][0];
  return first
    ? newAction({ kind: 'set', functionId: first.fn.id, value: firstValue(first.fn) })
    : newAction({ kind: 'scene', to: { kind: 'next' } });
}

const SIGNS = {
  bank: Layers,
  scene: ListMusic,
  song: Music2,
  panic: OctagonX,
  raw: Waves,
  tap: Metronome,
} as const;

function ActionMark({ world, action }: { world: World; action: ActionDoc }) {
  if ('functionId' in action) {
    const device = world.functions.get(functionOfAction(action) ?? '')?.device;
    return device ? (
      <TapeMark mark={device.mark} size={18} name={device.name} />
    ) : (
      <X size={18} aria-label="gone" />
    );
  }
  const Sign = SIGNS[action.kind];
  return <Sign size={18} strokeWidth={1.75} aria-hidden="true" />;
}

/** Example: ` after 250 ms`, ` off`. */
const delayWords = ({ delay, isOff }: ActionDoc): string =>
  `${delay ? ` after ${delay.amount} ${delay.unit}` : ''}${isOff ? ' off' : ''}`;

/** What an action is, in words and bytes. */
function words(world: World, action: ActionDoc): { title: string; value: string; bytes: string } {
  const wire = actionWire(world, action);
  const bytes = wire ? wire.messages.map((m) => hex(m)).join('  ') : '';
  switch (action.kind) {
    case 'set':
    case 'toggle':
    case 'arm-only':
    case 'momentary':
    case 'step': {
      const found = world.functions.get(action.functionId);
      if (!found) return { title: 'a function that is gone', value: '', bytes: 'nothing is sent' };
      const title = `${found.device.name} ${found.fn.name}`;
      const value = valueOf(found.device, found.fn, action);
      return { title, value, bytes: bytes || 'not sent: no cable leads there' };
    }
    case 'raw':
      return { title: 'Raw bytes', value: '', bytes: bytes || 'no whole message yet' };
    case 'bank': {
      const { to } = action;
      const bank =
        to.kind === 'bank' ? world.boards.flatMap((b) => b.banks).find((b) => b.bank.id === to.bankId) : null;
      return {
        title: 'Bank',
        value: to.kind === 'bank' ? (bank?.bank.name ?? 'gone') : to.kind,
        bytes: 'turns the page',
      };
    }
    case 'scene':
      return {
        title: 'Scene',
        value: action.to.kind === 'at' ? String(action.to.index + 1) : action.to.kind,
        bytes: 'sends what the scene changes',
      };
    case 'song':
      return { title: 'Song', value: action.to, bytes: 'sends its first scene' };
    case 'tap':
      return { title: 'Tap', value: 'tempo', bytes: 'sends nothing' };
    case 'panic':
      return { title: 'Panic', value: '', bytes: 'silences everything' };
  }
}

type Moving = Extract<ActionDoc, { functionId: string }>;

/** Example: `3 Full (sent 2)`, `toggle`, `127, up 0`, `1, 2, 3`. */
function valueOf(device: Device, fn: ChartFunction, action: Moving): string {
  switch (action.kind) {
    case 'set':
      return valueWords(device, fn, action.value);
    case 'toggle':
      return 'toggle';
    case 'arm-only':
      return 'on, all others off';
    case 'momentary':
      return `${shownText(device, fn, action.down)}, up ${shownText(device, fn, action.up)}`;
    case 'step':
      return action.values.map((v) => shownText(device, fn, v)).join(', ');
  }
}
