import { Pin, StepForward, TrendingUp } from 'lucide-react';
import { memo } from 'react';
import type { CueCell as Said } from '@idle-step/core/sheet';
import { GridCell, type GridCellPlace } from '../../../ui/grid/GridCell';

type Props = GridCellPlace & {
  /** Example: `Kelpline Snapshot`. */
  title: string;
  said: Said | null;
  /** The same value goes on into the next scene. */
  goesOn: boolean;
  glides: boolean;
  /** Its device loads a program in this scene, so that nothing of it glides there. */
  isAtOnce: boolean;
  sceneIndex: number;
  sceneName: string;
  colour: string;
  /** What may be typed here, while something is. */
  values: readonly string[] | null;
};

const NO_VALUES: readonly string[] = [];
const AT_ONCE = 'its device loads a program here';

/** One cell: set here, or carried from a scene to its left. */
export const CueCell = memo(function CueCell(props: Props) {
  const { title, said, goesOn, glides, isAtOnce, sceneIndex, sceneName, colour, values, ...place } = props;
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
  const look = isSet ? 'set' : isReplaced ? 'replaced' : 'carried';
  return (
    <GridCell
      {...place}
      className={`${look} t-${colour}`}
      label={says}
      text={text}
      values={values ?? NO_VALUES}
    >
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
    </GridCell>
  );
});
