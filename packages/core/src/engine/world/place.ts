import type { Assignment, GestureWants } from '../../floor';
import type { World, WorldBank, WorldBoard, WorldGroup, WorldWork } from './world';
import { nth } from '../../sure';

/** What of the live state says which pages are in force. */
export type PagesInForce = {
  readonly banks: Readonly<Record<string, string>>;
  readonly pages: Readonly<Record<string, string>>;
};

/** The page in force for a control: of its group, where it has one, else the bank of its board. */
export function pageInForce(
  board: WorldBoard,
  state: PagesInForce,
  controlId: string,
): WorldBank | undefined {
  const at = board.groupOf.get(controlId);
  return at === undefined ? bankInForce(board, state) : pageOfGroup(nth(board.groups, at), state);
}

/** Place of the bank in force in its preset, from 0; the first where none was chosen. */
export const bankIndex = ({ board, banks }: WorldBoard, state: PagesInForce): number =>
  indexOfPage(banks, state.banks[board.id]);

export const bankInForce = (board: WorldBoard, state: PagesInForce): WorldBank | undefined =>
  board.banks[bankIndex(board, state)];

/** Place of the page in force in its group, from 0; the first where none was chosen. */
export const pageIndex = ({ group, pages }: WorldGroup, state: PagesInForce): number =>
  indexOfPage(pages, state.pages[group.id]);

export const pageOfGroup = (group: WorldGroup, state: PagesInForce): WorldBank | undefined =>
  group.pages[pageIndex(group, state)];

function indexOfPage(pages: readonly WorldBank[], id: string | undefined): number {
  // A loop and not `findIndex`: this is asked for every control at every step.
  if (id !== undefined) for (let i = 1; i < pages.length; i++) if (nth(pages, i).bank.id === id) return i;
  return 0;
}

/** Where the evening is, as places in the running order of now. */
export type Place = {
  readonly songIndex: number;
  readonly sceneIndex: number | null;
  /** `null` before the song's first part, and where the scene in play stands in none. */
  readonly partIndex: number | null;
};

/** The same by their ids. */
type PlaceIds = {
  readonly entryId: string | null;
  readonly sceneId: string | null;
  readonly partId: string | null;
};

/** The place in the running order; the first song where nothing was played or what was played is gone. */
export function placeOf({ songs, songAt }: World, { position }: { readonly position: PlaceIds }): Place {
  const songIndex = songAt.get(position.entryId ?? '') ?? 0;
  const song = songs[songIndex];
  const { sceneId, partId } = position;
  const found = sceneId === null ? -1 : (song?.song.scenes.findIndex((s) => s.id === sceneId) ?? -1);
  if (!song || found < 0) return { songIndex, sceneIndex: null, partIndex: null };
  const part = song.parts.findIndex((p) => p.id === partId && p.sceneId === sceneId);
  // An edit may have taken the part away: the scene's first one is the nearest.
  const partIndex = part >= 0 ? part : song.parts.findIndex((p) => p.sceneId === sceneId);
  return { songIndex, sceneIndex: found, partIndex: partIndex < 0 ? null : partIndex };
}

/** What of the live state says what a control does. */
type InForce = PagesInForce & { readonly position: PlaceIds };

/** What the scene in play says that a control does; `undefined` where its bank counts. */
export function sceneWorkOf(world: World, state: InForce, controlId: string): WorldWork | undefined {
  if (!world.hasSceneControls) return undefined;
  const { songIndex, sceneIndex } = placeOf(world, state);
  return sceneIndex === null ? undefined : world.songs[songIndex]?.controls[sceneIndex]?.get(controlId);
}

/** What a control does now: as the scene in play says, else as the page in force does. */
export const assignmentInForce = (
  world: World,
  board: WorldBoard,
  state: InForce,
  controlId: string,
): Assignment | undefined =>
  sceneWorkOf(world, state, controlId)?.assignment ??
  pageInForce(board, state, controlId)?.assignments.get(controlId);

/** What the gestures of a control look out for now; `undefined` where it does nothing. */
export const wantsInForce = (
  world: World,
  board: WorldBoard,
  state: InForce,
  controlId: string,
): GestureWants | undefined =>
  sceneWorkOf(world, state, controlId)?.wants ?? pageInForce(board, state, controlId)?.wants.get(controlId);
