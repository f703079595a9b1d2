import { type Action, functionOfAction } from '@idle-step/core/floor';
import type { World } from '@idle-step/core/engine';
import type { Device } from '@idle-step/core/gear';
import { Copy, X } from 'lucide-react';
import { useLiveOf, useWorld } from '../live/use/useLive';
import { IconButton } from '../ui/IconButton';
import { moved } from '../edits/moved';
import { SortableList } from '../ui/SortableList';
import { TapeMark } from '../ui/TapeMark';
import { EVERY_WORDS } from './DelayFields';
import { ActionEditor } from './ActionEditor';
import type { ActionHome } from './entry';
import { entryOf } from './table';
import { actionBytes, actionWords } from './actionWords';
import { firstValue, newAction } from '../edits/presetEdits';

/** An ordered list of actions; the one in hand is edited in its line. */
export function ActionLines({
  label,
  home,
  actions,
  openId,
  onOpen,
  onChange,
}: {
  label: string;
  home: ActionHome;
  actions: readonly Action[];
  openId: string | null;
  onOpen(id: string | null): void;
  onChange(what: string, actions: Action[]): void;
}) {
  const world = useWorld();
  return (
    <SortableList
      items={actions}
      label={label}
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
              <ActionBytes action={action} />
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
              home={home}
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
  );
}

/** A new action sets the first function of the rig; without one it goes to the next scene. */
export function firstAction(world: World): Action {
  const first = world.rows.find(({ fn }) => fn.shape.kind === 'choice') ?? world.rows[0];
  return first
    ? newAction({ kind: 'set', functionId: first.fn.id, value: firstValue(first.fn) })
    : newAction({ kind: 'scene', to: { kind: 'next' } });
}

function ActionMark({ world, action }: { world: World; action: Action }) {
  const Sign = entryOf(action).sign;
  if (Sign) return <Sign size={18} strokeWidth={1.75} aria-hidden="true" />;
  const device = 'deviceId' in action ? world.ways.get(action.deviceId)?.device : undefined;
  return <DeviceMark device={device ?? world.functions.get(functionOfAction(action) ?? '')?.device} />;
}

const DeviceMark = ({ device }: { device: Device | undefined }) =>
  device ? <TapeMark mark={device.mark} size={18} name={device.name} /> : <X size={18} aria-label="gone" />;

/** Example: ` after 250 ms`, ` 1st, 3rd …`, ` off`. */
const delayWords = ({ delay, isOff, every }: Action): string =>
  `${every ? ` ${EVERY_WORDS[every]}` : ''}${delay ? ` after ${delay.amount} ${delay.unit}` : ''}${isOff ? ' off' : ''}`;

/** What an action sends if its gesture is made next, as the rig stands now. */
function ActionBytes({ action }: { action: Action }) {
  const bytes = useLiveOf(({ world, state }) => actionBytes(world, action, state));
  return <span className="bytes muted">{bytes}</span>;
}
