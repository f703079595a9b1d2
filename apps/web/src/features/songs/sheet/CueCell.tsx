import { Pin, StepForward, TrendingUp } from 'lucide-react';
import { memo, useId } from 'react';
import { Corners } from '../../../ui/Corners';
import { OfferedValues } from '../../../ui/OfferedValues';
import type { CueCell as Said } from '@idle-step/core/sheet';
import type { Typing } from './useCueGrid';

type Props = {
  /** Example: `Kelpline Snapshot`. */
  title: string;
  said: Said | null;
  /** The same value goes on into the next scene. */
  goesOn: boolean;
  glides: boolean;
  /** Its device loads a program in this scene, so that nothing of it glides there. */
  isAtOnce: boolean;
  row: number;
  sceneIndex: number;
  sceneName: string;
  colour: string;
  isInHand: boolean;
  isInRange: boolean;
  isTabStop: boolean;
  typing: Typing | null;
  /** What may be typed here, while something is. */
  values: readonly string[] | null;
  /** Stays the same from drawing to drawing. */
  acts: {
    pick(row: number, sceneIndex: number, extends_: boolean): void;
    type(text: string): void;
    commit(text: string): boolean;
    onKey(event: React.KeyboardEvent, row: number, sceneIndex: number): void;
    onTypingKey(event: React.KeyboardEvent, row: number, sceneIndex: number): void;
  };
};

const AT_ONCE = 'its device loads a program here';

/** One cell: set here, or carried from a scene to its left. */
export const CueCell = memo(function CueCell(props: Props) {
  const { title, said, goesOn, glides, isAtOnce, row, sceneIndex, sceneName, colour, typing, acts } = props;
  const listId = useId();
  const { isInHand, isInRange, isTabStop } = props;
  const isReplaced = said?.isReplaced ?? false;
  const isSet = said?.setIn === sceneIndex && !isReplaced;
  const text = said?.text ?? '';
  const how =
    said === null
      ? 'not set'
      : isReplaced
        ? `${text}, which writes the same`
        : isSet
          ? text + (said.isHeld ? ', held' : '')
          : `${text}, carried`;
  const way = glides ? (isAtOnce ? `, set at once: ${AT_ONCE}` : ', glides') : '';
  const says = `${title} in ${sceneName}: ${how}${way}`;
  const classes = [
    isSet ? 'set' : isReplaced ? 'replaced' : 'carried',
    isInHand ? 'framed' : '',
    isInRange ? 'in-range' : '',
  ];
  return (
    <td
      className={`${classes.join(' ')} t-${colour}`}
      role="gridcell"
      aria-selected={isInHand || isInRange}
      aria-label={says}
      tabIndex={isTabStop ? 0 : -1}
      data-cell={isInHand ? 'in-hand' : undefined}
      onMouseDown={(e) => {
        if (!typing) acts.pick(row, sceneIndex, e.shiftKey);
      }}
      onDoubleClick={() => acts.type(text)}
      onFocus={(e) => {
        if (!isInHand && e.target === e.currentTarget) acts.pick(row, sceneIndex, false);
      }}
      onKeyDown={(e) => !typing && acts.onKey(e, row, sceneIndex)}
    >
      {isInHand && <Corners />}
      {typing ? (
        <>
          <input
            className="cell-input num"
            aria-label={says}
            list={listId}
            autoComplete="off"
            aria-invalid={typing.error !== null}
            value={typing.text}
            autoFocus
            onChange={(e) => acts.type(e.target.value)}
            onKeyDown={(e) => acts.onTypingKey(e, row, sceneIndex)}
            onBlur={(e) => {
              if (typing.error === null) acts.commit(e.target.value);
            }}
          />
          <OfferedValues id={listId} values={props.values ?? []} />
        </>
      ) : (
        <span className="cell">
          {isSet && <b className="cell-edge" />}
          {said && !isSet && !isReplaced && !said.isMoment && <i className="line short" />}
          <span
            className="cell-text"
            title={
              isReplaced
                ? `${text}: it writes the same in its device, so this no longer holds`
                : text.length > 14
                  ? text
                  : undefined
            }
          >
            {text}
          </span>
          {isSet && said.isHeld && (
            <Pin size={12} className="cell-sign" aria-hidden="true">
              <title>Set to what it is anyway</title>
            </Pin>
          )}
          {glides && !isAtOnce && <TrendingUp size={13} className="cell-sign" aria-hidden="true" />}
          {glides && isAtOnce && (
            <StepForward size={13} className="cell-sign" aria-hidden="true">
              <title>{`Set at once: ${AT_ONCE}`}</title>
            </StepForward>
          )}
          {goesOn && !isReplaced && <i className="line" />}
        </span>
      )}
    </td>
  );
});
