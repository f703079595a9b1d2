import type { RigDoc, SongDoc } from '@idle-step/contract';
import { sceneCost } from '@idle-step/core/engine';
import { parseShown, shownText, type ChartFunction, type Device } from '@idle-step/core/gear';
import { sceneCells, type Cell } from '@idle-step/core/show';
import { useEffect, useMemo, useRef, useState } from 'react';
import { useEdit } from '../../drafts/useDocs';
import { usePlace, useWorld } from '../../live/useLive';
import { milliseconds } from '@idle-step/core/proof';
import { Cloth } from '../../ui/Cloth';
import { Corners } from '../../ui/Corners';
import { TapeMark } from '../../ui/TapeMark';
import { AddRow } from './AddRow';
import type { InHand } from './inHand';
import { withoutValue, withValue } from '../../edits/songEdits';

type Row = { readonly device: Device; readonly fn: ChartFunction };
type Props = { rig: RigDoc; song: SongDoc; inHand: InHand; onPick(inHand: InHand): void };

/** Longer settling than this is shown with a caution, in ms. Our own choice. */
const SLOW_MS = 40;

/** The cue sheet: a cell that is set stands out; a carried one shows by a line where its value comes from. */
export function CueGrid({ rig, song, inHand, onPick }: Props) {
  const edit = useEdit('songs');
  const world = useWorld();
  const place = usePlace();
  const [extra, setExtra] = useState<readonly string[]>([]);
  const [typing, setTyping] = useState<{ text: string; error: string | null } | null>(null);
  const grid = useRef<HTMLTableElement>(null);
  const rows = useMemo(() => rowsOf(rig, song, extra), [rig, song, extra]);
  const cells = useMemo(() => song.scenes.map((_, i) => sceneCells(song, i)), [song]);
  const costs = useMemo(() => song.scenes.map((_, i) => sceneCost(world, song, i)), [world, song]);
  const at = inHand?.kind === 'cell' ? inHand : null;
  const playing = world.songs[place.songIndex]?.song.id === song.id ? place.sceneIndex : null;

  useEffect(() => {
    if (at && typing === null) grid.current?.querySelector<HTMLElement>('[data-cell="in-hand"]')?.focus();
  }, [at, typing]);

  const pick = (sceneIndex: number, functionId: string) => {
    setTyping(null);
    onPick({ kind: 'cell', sceneIndex, functionId });
  };
  const commit = (row: Row, sceneIndex: number, text: string): boolean => {
    const result = parseShown(row.device, row.fn, text);
    if (!result.ok) {
      const { received, expected } = result.error;
      setTyping({
        text,
        error: `“${received}” is not a value of ${row.fn.name}; ${expected} would be right.`,
      });
      return false;
    }
    edit(song.id, `set ${row.fn.name}`, (s) =>
      withValue(s, s.scenes[sceneIndex]!.id, row.fn.id, result.value),
    );
    setTyping(null);
    return true;
  };
  const keys = (event: React.KeyboardEvent, rowIndex: number, sceneIndex: number) => {
    const row = rows[rowIndex]!;
    const go = (down: number, across: number) => {
      event.preventDefault();
      const next = rows[Math.min(rows.length - 1, Math.max(0, rowIndex + down))]!;
      pick(Math.min(song.scenes.length - 1, Math.max(0, sceneIndex + across)), next.fn.id);
    };
    if (typing) {
      if (event.key === 'Enter' && commit(row, sceneIndex, typing.text)) go(0, 0);
      if (event.key === 'Escape') setTyping(null);
      return;
    }
    if (event.ctrlKey || event.metaKey || event.altKey) return;
    if (event.key === 'ArrowDown') go(1, 0);
    else if (event.key === 'ArrowUp') go(-1, 0);
    else if (event.key === 'ArrowRight') go(0, 1);
    else if (event.key === 'ArrowLeft') go(0, -1);
    else if (event.key === 'Delete' || event.key === 'Backspace') {
      event.preventDefault();
      edit(song.id, `carry ${row.fn.name} over`, (s) => withoutValue(s, s.scenes[sceneIndex]!.id, row.fn.id));
    } else if (event.key === 'Enter' || event.key === 'F2') {
      event.preventDefault();
      const cell = cells[sceneIndex]?.get(row.fn.id);
      setTyping({ text: cell ? shownText(row.device, row.fn, cell.value).split(' ')[0]! : '', error: null });
    } else if (/^[\p{L}\p{N}]$/u.test(event.key)) {
      event.preventDefault();
      setTyping({ text: event.key, error: null });
    }
  };

  return (
    <div className="cue-room">
      <table
        className="cue-grid"
        ref={grid}
        role="grid"
        aria-label={`Cue sheet of ${song.name}`}
        data-own-keys
      >
        <thead>
          <tr className="scene-heads">
            <th colSpan={2}>
              <span className="visually-hidden">Function</span>
            </th>
            {song.scenes.map((scene, i) => (
              <th key={scene.id} scope="col" className={playing === i ? 'playing' : ''}>
                <button
                  type="button"
                  className={inHand?.kind === 'scene' && inHand.sceneIndex === i ? 'framed' : ''}
                  onClick={() => onPick({ kind: 'scene', sceneIndex: i })}
                  title="Name, order and deletion of this scene"
                >
                  {inHand?.kind === 'scene' && inHand.sceneIndex === i && <Corners />}
                  <Cloth text={scene.name} />
                </button>
              </th>
            ))}
          </tr>
          <tr className="cost">
            <th colSpan={2}>Messages sent</th>
            {costs.map((c, i) => (
              <td key={song.scenes[i]!.id} className="num">
                {c.messages}
              </td>
            ))}
          </tr>
          <tr className="cost last-cost">
            <th colSpan={2}>Settles in</th>
            {costs.map((c, i) => (
              <td key={song.scenes[i]!.id} className={`num ${c.settlesInMs > SLOW_MS ? 'slow' : ''}`}>
                {milliseconds(Math.round(c.settlesInMs))}
              </td>
            ))}
          </tr>
        </thead>
        <tbody>
          {rows.map((row, rowIndex) => {
            const isFirst = rows[rowIndex - 1]?.device !== row.device;
            const span = rows.filter((r) => r.device === row.device).length;
            return (
              <tr key={row.fn.id} className={isFirst ? 'device-first' : ''}>
                {isFirst && (
                  <th rowSpan={span} scope="rowgroup" className="device-head">
                    <span className="device-in-grid">
                      <TapeMark mark={row.device.mark} size={18} />
                      <span>
                        <span className="device-name">{row.device.name}</span>
                        <span className="num muted small">ch {row.device.channel + 1}</span>
                      </span>
                    </span>
                  </th>
                )}
                <th scope="row" className="function-head">
                  {row.fn.name}
                </th>
                {song.scenes.map((scene, sceneIndex) => {
                  const isInHand = at?.sceneIndex === sceneIndex && at.functionId === row.fn.id;
                  return (
                    <GridCell
                      key={scene.id}
                      row={row}
                      cell={cells[sceneIndex]!.get(row.fn.id)}
                      next={cells[sceneIndex + 1]?.get(row.fn.id)}
                      sceneIndex={sceneIndex}
                      sceneName={scene.name}
                      isInHand={isInHand}
                      isTabStop={isInHand || (at === null && rowIndex === 0 && sceneIndex === 0)}
                      typing={isInHand ? typing : null}
                      onPick={() => pick(sceneIndex, row.fn.id)}
                      onType={(text) => setTyping({ text, error: null })}
                      onEndTyping={(text) => commit(row, sceneIndex, text)}
                      onKeys={(e) => keys(e, rowIndex, sceneIndex)}
                    />
                  );
                })}
              </tr>
            );
          })}
        </tbody>
      </table>
      {typing?.error && (
        <p className="field-error" role="alert">
          {typing.error}
        </p>
      )}
      {rows.length === 0 && (
        <p className="muted py-3">
          This song sets nothing yet. Choose a function below: it becomes a row, and each scene can say what
          it should be.
        </p>
      )}
      <AddRow
        rig={rig}
        taken={new Set(rows.map((r) => r.fn.id))}
        onAdd={(id) => {
          setExtra([...extra, id]);
          if (song.scenes.length > 0) pick(0, id);
        }}
      />
    </div>
  );
}

type CellProps = {
  row: Row;
  cell: Cell | undefined;
  next: Cell | undefined;
  sceneIndex: number;
  sceneName: string;
  isInHand: boolean;
  isTabStop: boolean;
  typing: { text: string; error: string | null } | null;
  onPick(): void;
  onType(text: string): void;
  onEndTyping(text: string): void;
  onKeys(event: React.KeyboardEvent): void;
};

function GridCell({
  row,
  cell,
  next,
  sceneIndex,
  sceneName,
  isInHand,
  isTabStop,
  typing,
  onPick,
  onType,
  onEndTyping,
  onKeys,
}: CellProps) {
  const { device, fn } = row;
  const isSet = cell?.setIn === sceneIndex;
  const isTrigger = fn.shape.kind === 'trigger';
  const goesOn = !isTrigger && cell !== undefined && next?.setIn === cell.setIn;
  const text = cell && !(isTrigger && !isSet) ? shownText(device, fn, cell.value) : '';
  const says = `${device.name} ${fn.name} in ${sceneName}: ${text === '' ? 'not set' : isSet ? text : `${text}, carried`}`;
  return (
    <td
      className={`${isSet ? 'set' : 'carried'} ${isInHand ? 'framed' : ''} t-${device.mark.colour}`}
      role="gridcell"
      aria-selected={isInHand}
      aria-label={says}
      tabIndex={isTabStop ? 0 : -1}
      data-cell={isInHand ? 'in-hand' : undefined}
      onClick={onPick}
      onDoubleClick={() => onType(text.split(' ')[0] ?? '')}
      onFocus={(e) => {
        if (!isInHand && e.target === e.currentTarget) onPick();
      }}
      onKeyDown={onKeys}
    >
      {isInHand && <Corners />}
      {typing ? (
        <input
          className="cell-input num"
          aria-label={says}
          aria-invalid={typing.error !== null}
          value={typing.text}
          autoFocus
          onChange={(e) => onType(e.target.value)}
          onBlur={(e) => {
            if (typing.error === null) onEndTyping(e.target.value);
          }}
        />
      ) : (
        <span className="cell">
          {isSet && <b className="cell-edge" />}
          {cell && !isSet && !isTrigger && <i className="line short" />}
          <span className="cell-text">{text}</span>
          {goesOn && <i className="line" />}
        </span>
      )}
    </td>
  );
}

/** Functions that any scene sets, and those just added, in the order of the rig. */
function rowsOf(rig: RigDoc, song: SongDoc, extra: readonly string[]): Row[] {
  const used = new Set([...song.scenes.flatMap((s) => s.values.map((v) => v.functionId)), ...extra]);
  return rig.devices.flatMap((device) =>
    device.chart.filter((fn) => used.has(fn.id)).map((fn) => ({ device, fn })),
  );
}
