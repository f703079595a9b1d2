import type { FullRig } from '@idle-step/core/routing';
import { type Action, pressWaitMs, type ActionListName, type GestureWants } from '@idle-step/core/floor';
import { Plus } from 'lucide-react';
import { ActionLines, firstAction } from '../../../actions/ActionLines';
import { useWorld } from '../../../live/use/useLive';
import { IconButton } from '../../../ui/IconButton';
import { LearnAction } from './LearnAction';

type Props = {
  rig: FullRig;
  boardIndex: number;
  gesture: ActionListName;
  /** What makes a press wait, and for how long. */
  wants: GestureWants;
  actions: readonly Action[];
  openId: string | null;
  onOpen(id: string | null): void;
  onChange(what: string, actions: Action[]): void;
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
      <ActionLines
        label={`${TITLE[gesture]}: actions in order`}
        home={{ kind: 'board', boardIndex }}
        actions={actions}
        openId={openId}
        onOpen={onOpen}
        onChange={onChange}
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
