import { pageName, type HandLeftOut, type ProgramItem } from '@idle-step/core/memory';
import type { Board, Preset } from '@idle-step/core/floor';

/** What a board by itself cannot do, for people. */
export const leftOutWords = (items: readonly ProgramItem[], board: Board, preset: Preset): HandLeftOut[] =>
  items.map(({ pageId, controlId, list, id, does, deed }) => ({
    key: `${pageId}/${controlId}/${list}/${id}`,
    pageId,
    pageName: pageName(preset, pageId),
    controlId,
    controlName: board.controls.find((c) => c.id === controlId)?.name ?? '',
    list,
    does,
    sentence: deed.ok ? '' : deed.error,
  }));
