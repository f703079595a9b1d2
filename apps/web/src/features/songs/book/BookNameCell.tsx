import { memo } from 'react';
import { Cloth } from '../../../ui/Cloth';
import { GridCell, type GridCellPlace } from '../../../ui/grid/GridCell';

const CLASSES = { song: 'stays s0', bpm: 'stays s1', scene: 'stays s2', lasts: 'lasts' } as const;

type Props = GridCellPlace & {
  kind: keyof typeof CLASSES;
  title: string;
  /** Of which scene of which song. */
  place: string;
  text: string;
  /** Of the song in its set. */
  number: number | null;
  /** Of the scene's cloth. */
  colour: string | null;
};

const NO_VALUES: readonly string[] = [];

/** The name of a song or scene, a tempo, or a length. */
export const BookNameCell = memo(function BookNameCell(props: Props) {
  const { kind, title, place, text, number, colour, ...held } = props;
  const numbered = [number, text].filter(Boolean).join(' ');
  const says = [`${title} of ${place}`, numbered].filter(Boolean).join(': ');
  return (
    <GridCell {...held} className={CLASSES[kind]} label={says} text={text} values={NO_VALUES}>
      {kind === 'scene' && text ? (
        <Cloth text={text} colour={colour} />
      ) : (
        <span className={`cell-text ${kind === 'bpm' || kind === 'lasts' ? 'num muted' : ''}`} title={text}>
          {number !== null && <span className="song-number num muted">{number}</span>}
          {number !== null && ' '}
          {text}
        </span>
      )}
    </GridCell>
  );
});
