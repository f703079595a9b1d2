import { memo } from 'react';
import { CellInput, type CellActs } from '../../../ui/CellInput';
import { Cloth } from '../../../ui/Cloth';
import { Corners } from '../../../ui/Corners';
import type { Typing } from '../../../ui/useCellGrid';

const CLASSES = { song: 'stays s0', bpm: 'stays s1', scene: 'stays s2', lasts: 'lasts' } as const;

type Props = {
  kind: keyof typeof CLASSES;
  title: string;
  /** Of which scene of which song. */
  place: string;
  text: string;
  /** Of the song in its set. */
  number: number | null;
  /** Of the scene's cloth. */
  colour: string | null;
  row: number;
  col: number;
  isInHand: boolean;
  isInRange: boolean;
  isTabStop: boolean;
  typing: Typing | null;
  /** Stays the same from drawing to drawing. */
  acts: CellActs;
};

const NO_VALUES: readonly string[] = [];

/** The name of a song or scene, a tempo, or a length. */
export const BookNameCell = memo(function BookNameCell(props: Props) {
  const { kind, title, place, text, row, col, isInHand, typing, acts } = props;
  const numbered = [props.number, text].filter(Boolean).join(' ');
  const says = [`${title} of ${place}`, numbered].filter(Boolean).join(': ');
  const classes = [CLASSES[kind], isInHand ? 'framed' : '', props.isInRange ? 'in-range' : ''];
  return (
    <td
      className={classes.join(' ')}
      role="gridcell"
      aria-selected={isInHand || props.isInRange}
      aria-label={says}
      tabIndex={props.isTabStop ? 0 : -1}
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
        <CellInput label={says} typing={typing} values={NO_VALUES} acts={acts} />
      ) : kind === 'scene' && text ? (
        <Cloth text={text} colour={props.colour} />
      ) : (
        <span className={`cell-text ${kind === 'bpm' || kind === 'lasts' ? 'num muted' : ''}`} title={text}>
          {props.number !== null && <span className="song-number num muted">{props.number}</span>}
          {props.number !== null && ' '}
          {text}
        </span>
      )}
    </td>
  );
});
