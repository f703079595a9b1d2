import type { FullRig } from '@idle-step/core/routing';
import type { Preset } from '@idle-step/core/floor';
import { type Song, armingFinding, timedWay } from '@idle-step/core/show';
import { sceneCost } from '@idle-step/core/engine';
import { milliseconds } from '@idle-step/core/proof';
import { CircleAlert } from 'lucide-react';
import { useEffect, useMemo, useRef } from 'react';
import { usePlace, useWorld } from '../../../live/use/useLive';
import { Cloth } from '../../../ui/Cloth';
import { Corners } from '../../../ui/Corners';
import { TapeMark } from '../../../ui/TapeMark';
import { useStateOf } from '../../../ui/hooks/useStateOf';
import { useSteady } from '../../../ui/hooks/useSteady';
import { useViewStep } from '../../../drafts/useViewStep';
import {
  allCueRows,
  cueCell,
  cueRows,
  sheetState,
  typedValues,
  type CueRow,
  type SheetState,
} from '@idle-step/core/sheet';
import { transitionWords } from '../../../words/transitionWords';
import { AddRow } from './AddRow';
import { CueCell } from './CueCell';
import { isWithin, type InHand } from './inHand';
import { useCueGrid } from './useCueGrid';
import { nth } from '@idle-step/core/sure';

type Props = {
  rig: FullRig;
  presets: readonly Preset[];
  song: Song;
  inHand: InHand;
  onPick(inHand: InHand): void;
};

/** Longer settling than this is shown with a caution, in ms. */
const SLOW_MS = 40;

const NONE: readonly string[] = [];

/** The cue sheet: a cell that is set stands out; a carried one shows by a line where its value comes from. */
export function CueGrid({ rig, presets, song, inHand, onPick }: Props) {
  const world = useWorld();
  const place = usePlace();
  const [brought, setBrought] = useStateOf<readonly string[]>(song.id, NONE);
  const asStep = useViewStep(song.id);
  const grid = useRef<HTMLTableElement>(null);
  const rows = useMemo(() => cueRows(rig, presets, song, brought), [rig, presets, song, brought]);
  const taken = useMemo(() => new Set(rows.map((r) => r.key)), [rows]);
  const sheet = useMemo(() => sheetState(song, world), [song, world]);
  const cue = useCueGrid({ song, rows, sheet, inHand, onPick });
  const acts = useSteady({
    pick: cue.pick,
    type: cue.type,
    commit: cue.commit,
    onKey: cue.onKey,
    onTypingKey: cue.onTypingKey,
    add: (key: string) => {
      const title = allCueRows(rig, presets).find((r) => r.key === key)?.title ?? '';
      asStep(`add the line ${title}`.trim(), {
        redo: () => setBrought((list) => [...list.filter((k) => k !== key), key]),
        undo: () => setBrought((list) => list.filter((k) => k !== key)),
      });
      if (song.scenes.length > 0) onPick({ kind: 'cell', rowKey: key, sceneIndex: 0 });
    },
  });
  const at = inHand?.kind === 'cell' ? inHand : null;
  const playing = world.songs[place.songIndex]?.song.id === song.id ? place.sceneIndex : null;
  const { typing } = cue;

  useEffect(() => {
    if (at && typing === null) grid.current?.querySelector<HTMLElement>('[data-cell="in-hand"]')?.focus();
  }, [at, typing]);

  return (
    <div className="cue-room">
      <table
        className="cue-grid"
        ref={grid}
        role="grid"
        aria-label={`Cue sheet of ${song.name}`}
        aria-multiselectable="true"
        data-own-keys
        onCopy={cue.onCopy}
        onCut={cue.onCut}
        onPaste={cue.onPaste}
      >
        <SceneHeads song={song} sheet={sheet} inHand={inHand} playing={playing} onPick={onPick} />
        <tbody>
          {rows.map((row, rowIndex) => (
            <SheetRow
              key={row.key}
              row={row}
              isFirst={groupOf(rows[rowIndex - 1]) !== groupOf(row)}
              span={rows.filter((r) => groupOf(r) === groupOf(row)).length}
            >
              {song.scenes.map((scene, sceneIndex) => {
                const said = cueCell(row, song, sheet, sceneIndex);
                const next =
                  sceneIndex + 1 < song.scenes.length ? cueCell(row, song, sheet, sceneIndex + 1) : null;
                const isInHand = at?.sceneIndex === sceneIndex && at.rowKey === row.key;
                return (
                  <CueCell
                    key={sceneIndex}
                    title={row.kind === 'function' ? `${row.device.name} ${row.title}` : row.title}
                    said={said}
                    goesOn={said !== null && !said.isMoment && next?.setIn === said.setIn}
                    glides={glidesHere(song, row, sheet, sceneIndex)}
                    isAtOnce={row.kind === 'function' && nth(sheet.loading, sceneIndex).has(row.device.id)}
                    row={rowIndex}
                    col={sceneIndex}
                    sceneIndex={sceneIndex}
                    sceneName={scene.name}
                    colour={row.kind === 'function' ? row.device.mark.colour : 'plain'}
                    isInHand={isInHand}
                    isInRange={!isInHand && cue.range !== null && isWithin(cue.range, rowIndex, sceneIndex)}
                    isTabStop={isInHand || (at === null && rowIndex === 0 && sceneIndex === 0)}
                    typing={isInHand ? typing : null}
                    values={isInHand && typing ? typedValues(row) : null}
                    acts={acts}
                  />
                );
              })}
            </SheetRow>
          ))}
        </tbody>
      </table>
      {(typing?.error ?? cue.sentence) && (
        <p className="field-error" role="alert">
          {typing?.error ?? cue.sentence}
        </p>
      )}
      {rows.length === 0 && (
        <p className="muted py-3">
          This song sets nothing yet. Choose a function below: it becomes a row, and each scene can say what
          it should be.
        </p>
      )}
      <AddRow rig={rig} presets={presets} taken={taken} onAdd={acts.add} />
    </div>
  );
}

/** The scenes by name, with what going there costs. */
function SceneHeads({
  song,
  sheet,
  inHand,
  playing,
  onPick,
}: Pick<Props, 'song' | 'inHand' | 'onPick'> & { sheet: SheetState; playing: number | null }) {
  const world = useWorld();
  const costs = useMemo(() => song.scenes.map((_, i) => sceneCost(world, song, i)), [world, song]);
  return (
    <thead>
      <tr className="scene-heads">
        <th colSpan={2}>
          <span className="visually-hidden">Function</span>
        </th>
        {song.scenes.map((scene, i) => (
          <th key={i} scope="col" className={playing === i ? 'playing' : ''}>
            <button
              type="button"
              className={inHand?.kind === 'scene' && inHand.sceneIndex === i ? 'framed' : ''}
              onClick={() => onPick({ kind: 'scene', sceneIndex: i })}
              title="Name, order, transition and deletion of this scene"
            >
              {inHand?.kind === 'scene' && inHand.sceneIndex === i && <Corners />}
              <Cloth text={scene.name} colour={scene.colour} />
              <ArmingMark
                fault={armingFinding(song, nth(sheet.cells, i), world.arming, i)?.sentence ?? null}
              />
            </button>
          </th>
        ))}
      </tr>
      <tr className="cost">
        <th colSpan={2}>Messages sent</th>
        {costs.map((c, i) => (
          <td key={i} className="num">
            {c.messages}
          </td>
        ))}
      </tr>
      <tr className="cost">
        <th colSpan={2}>Settles in</th>
        {costs.map((c, i) => (
          <td key={i} className={`num ${c.settlesInMs > SLOW_MS ? 'slow' : ''}`}>
            {milliseconds(Math.round(c.settlesInMs))}
          </td>
        ))}
      </tr>
      <tr className="cost last-cost">
        <th colSpan={2}>Transition</th>
        {song.scenes.map((scene, i) => (
          <td key={i}>{transitionWords(song, scene)}</td>
        ))}
      </tr>
    </thead>
  );
}

/** Says what is odd about the tracks that a scene leaves armed. */
const ArmingMark = ({ fault }: { fault: string | null }) =>
  fault === null ? null : (
    <span className="arming-mark" role="img" aria-label={fault} title={fault}>
      <CircleAlert size={14} aria-hidden="true" />
    </span>
  );

/** Lines that stand together: the functions of a device, and the rest. */
const groupOf = (row: CueRow | undefined): string | null =>
  row === undefined ? null : row.kind === 'function' ? row.device.id : 'song';

function SheetRow({
  row,
  isFirst,
  span,
  children,
}: {
  row: CueRow;
  isFirst: boolean;
  span: number;
  children: React.ReactNode;
}) {
  return (
    <tr className={isFirst ? 'device-first' : ''}>
      {isFirst && (
        <th rowSpan={span} scope="rowgroup" className="device-head">
          {row.kind === 'function' ? (
            <span className="device-in-grid">
              <TapeMark mark={row.device.mark} size={18} />
              <span>
                <span className="device-name">{row.device.name}</span>
                <span className="num muted small">ch {row.device.channel + 1}</span>
              </span>
            </span>
          ) : (
            <span className="muted">Song</span>
          )}
        </th>
      )}
      <th scope="row" className="function-head" title={row.title}>
        {row.title}
      </th>
      {children}
    </tr>
  );
}

/** Whether a value that is set here gets there on its way and not at once. */
function glidesHere(song: Song, row: CueRow, sheet: SheetState, sceneIndex: number): boolean {
  if (row.kind !== 'function' || row.fn.shape.kind !== 'range' || sceneIndex === 0) return false;
  const scene = nth(song.scenes, sceneIndex);
  const value = scene.values.find((v) => v.functionId === row.fn.id);
  const before = sheet.cells[sceneIndex - 1]?.get(row.fn.id);
  if (!value || !before || before.value === value.value) return false;
  return timedWay(value.way, scene.transition) !== null;
}
