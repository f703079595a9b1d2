import type { ActionDoc, RigDoc } from '@idle-step/contract';
import { functionOfAction, pressWaitMs, type ActionListName, type GestureWants } from '@idle-step/core/floor';
import {
  BookOpen,
  Clock,
  Copy,
  Layers,
  ListMusic,
  Metronome,
  Music2,
  OctagonX,
  Plus,
  Waves,
  X,
  Waypoints,
} from 'lucide-react';
import type { Device } from '@idle-step/core/gear';
import { useWorld } from '../../live/useLive';
import { IconButton } from '../../ui/IconButton';
import { moved } from '../../edits/moved';
import { SortableList } from '../../ui/SortableList';
import { TapeMark } from '../../ui/TapeMark';
import { EVERY_WORDS } from './actions/DelayFields';
import { ActionEditor } from './ActionEditor';
import { actionWords } from './actionWords';
import { LearnAction } from './LearnAction';
import { firstValue, newAction } from '../../edits/presetEdits';
import type { World } from '@idle-step/core/engine';

type Props = {
  rig: RigDoc;
  boardIndex: number;
  gesture: ActionListName;
  /** What makes a press wait, and for how long. */
  wants: GestureWants;
  actions: readonly ActionDoc[];
  openId: string | null;
  onOpen(id: string | null): void;
  onChange(what: string, actions: ActionDoc[]): void;
};

const TITLE: Record<ActionListName, string> = {
  press: 'Press',
  release: 'Release',
  hold: 'Hold',
  doublePress: 'Double press',
  toe: 'Toe',
  heel: 'Heel',
};
const HINT: Record<ActionListName, string> = {
  press: 'Add what should happen when the foot comes down.',
  release: 'Add what should happen when the foot lifts.',
  hold: 'Add what should happen when the foot stays down.',
  doublePress: 'Add what should happen on two presses in a row; a single one then waits for the second.',
  toe: 'Add what should happen when the pedal comes to its toe.',
  heel: 'Add what should happen when the pedal comes back to its heel.',
};

/** The ordered list of what a gesture causes; the action in hand is edited in its line. */
export function ActionList({ rig, boardIndex, gesture, wants, actions, openId, onOpen, onChange }: Props) {
  const world = useWorld();
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
        <LearnAction
          rig={rig}
          onLearned={(action) => {
            onChange('learn an action', [...actions, action]);
            onOpen(action.id);
          }}
        />
        <IconButton icon={Plus} label={`Add an action on ${TITLE[gesture].toLowerCase()}`} onClick={add} />
      </header>
      {actions.length === 0 && <p className="small muted">{HINT[gesture]}</p>}
      <SortableList
        items={actions}
        label={`${TITLE[gesture]}: actions in order`}
        nameOf={(a) => actionWords(world, a).title}
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
                <span className="action-title">{actionWords(world, action).title}</span>
                <span className="action-value">
                  {actionWords(world, action).value}
                  <span className="muted">{delayWords(action)}</span>
                </span>
                <span className="bytes muted">{actionWords(world, action).bytes}</span>
              </button>
              <IconButton
                icon={Copy}
                label={`Duplicate action ${index + 1}`}
                onClick={() =>
                  onChange('duplicate an action', [
                    ...actions.slice(0, index + 1),
                    { ...action, id: crypto.randomUUID() },
                    ...actions.slice(index + 1),
                  ])
                }
              />
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
                boardIndex={boardIndex}
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
  const first = world.rows.find(({ fn }) => fn.shape.kind === 'choice') ?? world.rows[0];
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
  clock: Clock,
  route: Waypoints,
  page: BookOpen,
} as const;

function ActionMark({ world, action }: { world: World; action: ActionDoc }) {
  if ('functionId' in action) {
    const device = world.functions.get(functionOfAction(action) ?? '')?.device;
    return <DeviceMark device={device} />;
  }
  if ('deviceId' in action) return <DeviceMark device={world.ways.get(action.deviceId)?.device} />;
  const Sign = SIGNS[action.kind];
  return <Sign size={18} strokeWidth={1.75} aria-hidden="true" />;
}

const DeviceMark = ({ device }: { device: Device | undefined }) =>
  device ? <TapeMark mark={device.mark} size={18} name={device.name} /> : <X size={18} aria-label="gone" />;

/** Example: ` after 250 ms`, ` 1st, 3rd …`, ` off`. */
const delayWords = ({ delay, isOff, every }: ActionDoc): string =>
  `${every ? ` ${EVERY_WORDS[every]}` : ''}${delay ? ` after ${delay.amount} ${delay.unit}` : ''}${isOff ? ' off' : ''}`;
