import { ACTIONS, knownIn, traitsOf } from '@idle-step/core/engine';
import type { Action } from '@idle-step/core/floor';
import { useMemo } from 'react';
import { useWorld } from '../live/use/useLive';
import { Pick } from '../ui/Fields';
import { DelayFields } from './DelayFields';
import type { ActionHome } from './entry';
import { ACTION_KINDS, entryOf, withKind } from './table';

/** One action, opened: what it does, to what, and with which value. */
export function ActionEditor({
  home,
  action,
  onChange,
}: {
  home: ActionHome;
  action: Action;
  onChange(action: Action): void;
}) {
  const world = useWorld();
  const boardIndex = home.kind === 'board' ? home.boardIndex : -1;
  const Fields = entryOf(action).fields;
  const known = useMemo(() => knownIn(world), [world]);
  const { marks } = traitsOf(action).row(action, known);
  return (
    <div className="action-editor">
      <Pick
        label="Does"
        value={action.kind}
        options={ACTION_KINDS.filter(
          ({ value }) =>
            value === action.kind ||
            ((home.kind !== 'cue' || ACTIONS[value].isInCues) && withKind(world, boardIndex, action, value)),
        )}
        onPick={(kind) => {
          const next = withKind(world, boardIndex, action, kind);
          if (next) onChange(next);
        }}
      />
      <Fields key={action.kind} world={world} home={home} action={action} onChange={onChange} />
      {marks.map(({ sentence }) => (
        <p key={sentence} className="row-warning" role="status">
          {sentence}
        </p>
      ))}
      <DelayFields action={action} isSwitched={home.kind === 'board'} onChange={onChange} />
    </div>
  );
}
