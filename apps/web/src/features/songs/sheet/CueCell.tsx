import { Pin, StepForward, TrendingUp } from 'lucide-react';
import { memo } from 'react';
import { Corners } from '../../../ui/Corners';
import type { CueCell as Said } from '@idle-step/core/sheet';
import type { Typing } from '../../../ui/useCellGrid';
import { CellInput, type CellActs } from '../../../ui/CellInput';

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
  /** Its place across, where that is not its scene. */
  col?: number;
  /** Stays the same from drawing to drawing. */
  acts: CellActs;
};

const AT_ONCE = 'its device loads a program here';

/** One cell: set here, or carried from a scene to its left. */
export const CueCell = memo(function CueCell(props: Props) {
  const { title, said, goesOn, glides, isAtOnce, row, sceneIndex, sceneName, colour, typing, acts } = props;
  const { isInHand, isInRange, isTabStop, col = sceneIndex } = props;
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
        if (!typing) acts.pick(row, col, e.shiftKey);
      }}
      onDoubleClick={() => acts.type(text)}
      onFocus={(e) => {
        if (!isInHand && e.target === e.currentTarget) acts.pick(row, col, false);
      }}
      onKeyDown={(e) => !typing && acts.onKey(e, row, col)}
    >
      {isInHand && <Corners />}
      {typing ? (
        <CellInput label={says} typing={typing} values={props.values ?? []} acts={acts} />
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
