import { Name, type SongDoc } from '@idle-step/contract';
import { ChevronLeft, ChevronRight, Copy, Play, Trash2 } from 'lucide-react';
import { Button } from 'react-bootstrap';
import { useEdit } from '../../drafts/useDocs';
import { useLiveHost, useWorld } from '../../live/useLive';
import { TextField } from '../../ui/Fields';
import { IconButton } from '../../ui/IconButton';
import type { InHand } from './inHand';
import { mapScene, withoutScene, withSceneCopy, withSceneMoved } from '../../edits/songEdits';

/** The scene in hand: its name, its place, and playing it. */
export function SceneBar({
  song,
  sceneIndex,
  onPick,
}: {
  song: SongDoc;
  sceneIndex: number;
  onPick(inHand: InHand): void;
}) {
  const edit = useEdit('songs');
  const host = useLiveHost();
  const world = useWorld();
  const scene = song.scenes[sceneIndex]!;
  const songIndex = world.songs.findIndex((s) => s.song.id === song.id);
  const move = (by: number) => {
    edit(song.id, 'move a scene', (s) => withSceneMoved(s, sceneIndex, sceneIndex + by));
    onPick({ kind: 'scene', sceneIndex: sceneIndex + by });
  };
  const copy = () => {
    edit(song.id, 'duplicate a scene', (s) => withSceneCopy(s, sceneIndex, crypto.randomUUID()));
    onPick({ kind: 'scene', sceneIndex: sceneIndex + 1 });
  };
  const remove = () => {
    edit(song.id, 'remove a scene', (s) => withoutScene(s, scene.id));
    onPick(null);
  };
  return (
    <section className="in-hand-bar" aria-label="The scene in hand">
      <TextField
        label="Name of the scene"
        value={scene.name}
        schema={Name}
        onCommit={(name) =>
          edit(song.id, 'rename a scene', (s) => mapScene(s, scene.id, (x) => ({ ...x, name })))
        }
      />
      <span className="muted small">
        sets {scene.values.length} {scene.values.length === 1 ? 'function' : 'functions'}, carries the rest
      </span>
      <IconButton
        line
        icon={ChevronLeft}
        label="Earlier"
        disabled={sceneIndex === 0}
        onClick={() => move(-1)}
      />
      <IconButton
        line
        icon={ChevronRight}
        label="Later"
        disabled={sceneIndex === song.scenes.length - 1}
        onClick={() => move(1)}
      />
      <IconButton line icon={Copy} label="Duplicate" onClick={copy} />
      <IconButton line icon={Trash2} label="Remove; undo brings it back" onClick={remove} />
      <span className="gap" />
      {songIndex < 0 && <span className="small muted">not in the set in play</span>}
      <Button
        variant="go"
        disabled={songIndex < 0}
        title={
          songIndex < 0
            ? 'This song is not in the set in play; put it in under Sets, or choose another set above'
            : 'Send what this scene changes'
        }
        onClick={() => host.command({ kind: 'go', songIndex, sceneIndex })}
      >
        <Play size={16} strokeWidth={1.75} aria-hidden="true" />
        Recall now
      </Button>
    </section>
  );
}
