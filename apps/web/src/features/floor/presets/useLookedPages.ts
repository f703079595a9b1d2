import { bankInForce, pageOfGroup, type PagesInForce, type WorldBoard } from '@idle-step/core/engine';
import { pagesOf, type Preset } from '@idle-step/core/floor';
import { useCallback, useMemo, useState } from 'react';
import { useLiveHost, useLiveState } from '../../../live/use/useLive';

/** A bank, or a page of a group. */
type Looked = { readonly groupId: string | null; readonly pageId: string };

/** The bank and pages of a board that are looked at: those in force, or one that is only edited. */
export type Looking = {
  readonly pages: PagesInForce;
  /** The one that is looked at and is not in force. */
  readonly aside: Looked | null;
  /** Shows a bank (`groupId` is `null`) or page without putting it in force. */
  look(looked: Looked | null): void;
  putInForce(): void;
};

export function useLookedPages(worldBoard: WorldBoard, preset: Preset): Looking {
  const host = useLiveHost();
  const state = useLiveState('banks', 'pages');
  const { board, groups } = worldBoard;
  const inForce = [
    bankInForce(worldBoard, state)?.bank.id,
    ...groups.map((g) => pageOfGroup(g, state)?.bank.id),
  ].join();
  const [given, setGiven] = useState<{ looked: Looked; inForce: string } | null>(null);
  // What comes into force by a foot or a click is what is looked at from then on; what is gone is not any more.
  const isThere = given !== null && pagesOf(preset).some((p) => p.id === given.looked.pageId);
  const aside = given && isThere && given.inForce === inForce ? given.looked : null;
  const pages = useMemo<PagesInForce>(() => {
    if (!aside) return state;
    const { groupId, pageId } = aside;
    return groupId === null
      ? { ...state, banks: { ...state.banks, [board.id]: pageId } }
      : { ...state, pages: { ...state.pages, [groupId]: pageId } };
  }, [aside, state, board.id]);
  const look = useCallback((looked: Looked | null) => setGiven(looked && { looked, inForce }), [inForce]);
  const putInForce = () => {
    if (!aside) return;
    const { groupId, pageId } = aside;
    const to = { bankId: pageId };
    host.command(
      groupId === null
        ? { kind: 'bank', boardId: board.id, to }
        : { kind: 'page', boardId: board.id, groupId, to },
    );
    setGiven(null);
  };
  return { pages, aside, look, putInForce };
}
