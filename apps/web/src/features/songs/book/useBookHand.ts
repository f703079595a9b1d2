import { allCueRows, bookColumns, bookLines, sheetState, type BookLine } from '@idle-step/core/sheet';
import type { Preset } from '@idle-step/core/floor';
import type { FullRig } from '@idle-step/core/routing';
import type { Song } from '@idle-step/core/show';
import { useMemo, type KeyboardEvent } from 'react';
import { useEdit } from '../../../drafts/useDocs';
import { useViewStep } from '../../../drafts/useViewStep';
import { oncePerDoc } from '../../../drafts/saving/steady';
import { withNewSceneAfter } from '../../../edits/songEdits';
import { useWorld } from '../../../live/use/useLive';
import { useStateOf } from '../../../ui/hooks/useStateOf';
import { useBookGrid, type BookPlace as Place } from './useBookGrid';
import { nth, there } from '@idle-step/core/sure';

const NONE: readonly string[] = [];

/** What one came here with: a song, or a line of the sheet. */
type AskedFor = { readonly askedFor: string | null; readonly lineAskedFor: string | null };

/** The rows and columns of the book, what is in hand, and what is done with it. */
export function useBookHand(
  rig: FullRig,
  presets: readonly Preset[],
  songs: readonly Song[],
  { askedFor, lineAskedFor }: AskedFor,
) {
  const editSong = useEdit('songs');
  const world = useWorld();
  const [brought, setBrought] = useStateOf<readonly string[]>(
    rig.id,
    lineAskedFor === null ? NONE : [lineAskedFor],
  );
  const asStep = useViewStep(rig.id);
  const [placed, setAt] = useStateOf<Place | 'first' | null>(
    rig.id,
    askedFor !== null
      ? { songId: askedFor, sceneIndex: 0, column: 'scene' }
      : lineAskedFor !== null
        ? 'first'
        : null,
  );
  const lines = useMemo(() => bookLines(songs), [songs]);
  const at = placed === 'first' ? firstPlace(lines, lineAskedFor) : placed;
  const columns = useMemo(() => bookColumns(rig, presets, songs, brought), [rig, presets, songs, brought]);
  const sheets = useMemo(() => oncePerDoc((song: Song) => sheetState(song, world)), [world]);
  const grid = useBookGrid({ of: `book of ${rig.id}`, lines, columns, sheets, at, onMove: setAt });
  const place = {
    row: at ? lines.findIndex((l) => l.song.id === at.songId && l.sceneIndex === at.sceneIndex) : -1,
    col: at ? columns.findIndex((c) => c.key === at.column) : -1,
  };
  const addLine = (key: string) => {
    const title = allCueRows(rig, presets).find((r) => r.key === key)?.title ?? '';
    asStep(`add the line ${title}`.trim(), {
      redo: () => setBrought((list) => [...list.filter((k) => k !== key), key]),
      undo: () => setBrought((list) => list.filter((k) => k !== key)),
    });
    const line = lines[Math.max(0, place.row)];
    if (line) setAt({ songId: line.song.id, sceneIndex: line.sceneIndex, column: key });
  };
  const addScene = ({ song, sceneIndex }: BookLine) => {
    editSong(song.id, 'add a scene', (s) => withNewSceneAfter(s, sceneIndex));
    setAt({ songId: song.id, sceneIndex: sceneIndex + 1, column: 'scene' });
  };
  // With Ctrl: Enter adds a scene below, arrows go to the next song or the one before.
  const onKey = (event: KeyboardEvent) => {
    const line = lines[place.row];
    const by = { ArrowDown: 1, ArrowUp: -1 }[event.key];
    if (!line || !(event.ctrlKey || event.metaKey) || (event.key !== 'Enter' && !by)) return;
    event.preventDefault();
    event.stopPropagation();
    if (grid.typing !== null && !grid.commit(grid.typing.text)) return;
    if (!by) addScene(line);
    else setAt({ ...songBeside(lines, place.row, by), column: there(at).column });
  };
  const show = (songId: string | null) => {
    if (songId) setAt({ songId, sceneIndex: 0, column: 'scene' });
  };
  return { lines, columns, sheets, grid, at, place, setAt, addLine, addScene, onKey, show };
}

/** The first row, in the column that was asked for. */
function firstPlace(lines: readonly BookLine[], column: string | null): Place | null {
  const line = lines[0];
  return line && column !== null ? { songId: line.song.id, sceneIndex: line.sceneIndex, column } : null;
}

/** Where the next song begins, or where this one does and then the one before. */
function songBeside(lines: readonly BookLine[], row: number, by: number): Omit<Place, 'column'> {
  const starts = lines.flatMap((l, i) => (l.isFirst ? [i] : []));
  const to = by > 0 ? starts.find((i) => i > row) : starts.findLast((i) => i < row);
  const { song, sceneIndex } = nth(lines, to ?? row);
  return { songId: song.id, sceneIndex };
}
