import type { BookLine } from '@idle-step/core/sheet';
import { ArrowDownToLine, Plus, Trash2 } from 'lucide-react';
import { Button } from 'react-bootstrap';
import { Link } from 'react-router-dom';
import { SaveState } from '../../../documents/SaveState';
import { useEdit } from '../../../drafts/useDocs';
import { withoutScene } from '../../../edits/songEdits';
import type { CellGridState } from '../../../ui/grid/useCellGrid';
import type { BookPlace } from './useBookGrid';

/** What can be done with the scene in hand. */
export function BookBar({
  line,
  column,
  grid,
  onAdd,
  onMove,
}: {
  line: BookLine;
  column: string;
  grid: CellGridState;
  onAdd(): void;
  onMove(to: BookPlace): void;
}) {
  const edit = useEdit('songs');
  const { song, sceneIndex } = line;
  const scene = song.scenes[sceneIndex];
  const remove = () => {
    if (!scene) return;
    edit(song.id, 'remove a scene', (s) => withoutScene(s, scene.id));
    onMove({ songId: song.id, sceneIndex: Math.min(sceneIndex, song.scenes.length - 2), column });
  };
  const isRange = grid.range !== null && grid.range.bottom > grid.range.top;
  return (
    <div className="book-bar" role="group" aria-label="The scene in hand">
      <Link to={`/songs/${song.id}`}>{song.name}</Link>
      {scene && <span className="muted">{scene.name}</span>}
      <SaveState resource="songs" id={song.id} />
      <span className="gap" />
      <Button
        variant="quiet"
        disabled={!isRange}
        onClick={grid.fill}
        title="What stands in the uppermost row of the range, in all rows below it: Alt+D"
      >
        <ArrowDownToLine size={16} strokeWidth={1.75} aria-hidden="true" />
        Fill down
      </Button>
      <Button variant="quiet" onClick={onAdd} title="Ctrl+Enter">
        <Plus size={16} strokeWidth={1.75} aria-hidden="true" />
        Scene below
      </Button>
      <Button variant="quiet" disabled={!scene} onClick={remove}>
        <Trash2 size={16} strokeWidth={1.75} aria-hidden="true" />
        Remove this scene
      </Button>
    </div>
  );
}
