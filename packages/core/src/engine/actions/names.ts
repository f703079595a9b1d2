import type { ChartFunction, Device } from '../../gear';
import type { World } from '../world/world';

/** Names of what actions point at; nothing for what is gone. */
export type Names = {
  find(functionId: string): { readonly device: Device; readonly fn: ChartFunction } | undefined;
  /** The n-th scene, from 0, of the song in play; empty when it has no such scene, `null` when there is no song. */
  sceneAt(index: number): string | null;
  scene(sceneId: string): string | undefined;
  /** A bank, or a page of a group. */
  page(bankId: string): string | undefined;
  route(routeId: string): string | undefined;
};

/** Names as a world has them. @param songIndex the place of the song in play in the set. */
export const namesIn = (world: World, songIndex: number): Names => ({
  find: (id) => world.functions.get(id),
  sceneAt: (index) => {
    const scenes = world.songs[songIndex]?.song.scenes;
    // A song without that scene leaves the name empty: the switch does nothing in it.
    return scenes ? (scenes[index]?.name ?? '') : null;
  },
  scene: (sceneId) => world.songs.flatMap((s) => s.song.scenes).find((s) => s.id === sceneId)?.name,
  page: (bankId) => world.pageNames.get(bankId),
  route: (routeId) => world.routes.byId.get(routeId)?.name,
});
