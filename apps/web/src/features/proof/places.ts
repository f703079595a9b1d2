import type { World } from '@idle-step/core/engine';

/** The song and the scene of a place in the running order, in words. */
export function sceneText(
  world: World,
  { entryId, sceneId }: { readonly entryId: string; readonly sceneId: string },
): string {
  const song = world.songs.find((s) => s.entryId === entryId)?.song;
  const scene = song?.scenes.find((s) => s.id === sceneId);
  return song && scene ? `${song.name}, ${scene.name}` : 'a scene that is gone';
}
