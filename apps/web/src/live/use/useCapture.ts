import { captureFor } from '@idle-step/core/engine';
import { useEffect } from 'react';
import { useEdit } from '../../drafts/useDocs';
import { withCaptured } from '../../edits/songEdits';
import { useLiveHost } from './useLive';

/** Keeps how the rig stands as the scene in play when a switch asks for it; it can be undone like any edit. */
export function useCapture(): void {
  const host = useLiveHost();
  const edit = useEdit('songs');
  useEffect(() => {
    host.captureWith((songId, sceneId) => {
      const { world, state } = host.now();
      let count: number | null = null;
      edit(songId, 'capture', (song) => {
        const at = song.scenes.findIndex((s) => s.id === sceneId);
        const found = at < 0 ? [] : captureFor(world, state, song, at);
        count = found.length;
        return withCaptured(song, sceneId, found);
      });
      host.note(count === null ? { code: 'capture-lost' } : { code: 'captured', count });
    });
    return () => host.captureWith(null);
  }, [host, edit]);
}
