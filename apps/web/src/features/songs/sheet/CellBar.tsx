import type { FullRig } from '@idle-step/core/routing';
import type { Preset } from '@idle-step/core/floor';
import { type Song, noteMs, sceneCells, sceneSheet, sceneSurround, timedWay } from '@idle-step/core/show';
import { loadingIn } from '@idle-step/core/engine';
import { milliseconds } from '@idle-step/core/proof';
import { functionChannel, messagesFor, shownText, valueBounds } from '@idle-step/core/gear';
import { encode, hex } from '@idle-step/core/midi';
import { Button } from 'react-bootstrap';
import { useEdit } from '../../../drafts/useDocs';
import { useWorld } from '../../../live/use/useLive';
import { Cloth } from '../../../ui/Cloth';
import { TapeMark } from '../../../ui/TapeMark';
import { ValuePick } from '../../../gear/FunctionPick';
import { driveText } from '@idle-step/core/formats';
import { rangeWords } from '../../../words/chartWords';
import type { CellAt } from './inHand';
import {
  allCueRows,
  cueCell,
  sheetState,
  withoutCell,
  withoutValue,
  withValue,
  type CueRow,
} from '@idle-step/core/sheet';
import { OwnWay } from './OwnWay';
import { nth } from '@idle-step/core/sure';

type Props = { rig: FullRig; presets: readonly Preset[]; song: Song; at: CellAt };

/** The cell in hand: what it was before, what it becomes, how it gets there, and the bytes of it. */
export function CellBar({ rig, presets, song, at }: Props) {
  const row = allCueRows(rig, presets).find((r) => r.key === at.rowKey);
  if (!row || !song.scenes[at.sceneIndex]) return null;
  return row.kind === 'function' ? (
    <FunctionBar rig={rig} song={song} row={row} sceneIndex={at.sceneIndex} />
  ) : (
    <OtherBar song={song} row={row} sceneIndex={at.sceneIndex} />
  );
}

function FunctionBar({
  rig,
  song,
  row: { device, fn },
  sceneIndex,
}: {
  rig: FullRig;
  song: Song;
  row: CueRow & { kind: 'function' };
  sceneIndex: number;
}) {
  const edit = useEdit('songs');
  const scene = nth(song.scenes, sceneIndex);
  const world = useWorld();
  const { cells, replaced } = sceneSheet(song, sceneIndex, world.carrying);
  const cell = cells.get(fn.id);
  const other = replaced.get(fn.id);
  const before = sceneIndex > 0 ? sceneCells(song, sceneIndex - 1, world.carrying).get(fn.id) : undefined;
  const isSet = cell?.setIn === sceneIndex;
  const isTrigger = fn.shape.kind === 'trigger';
  const set = (value: number) => edit(song.id, `set ${fn.name}`, (s) => withValue(s, scene.id, fn.id, value));
  const clear = () => edit(song.id, `carry ${fn.name} over`, (s) => withoutValue(s, scene.id, fn.id));
  const value = cell?.value ?? before?.value;
  const own = scene.values.find((v) => v.functionId === fn.id);
  const bpm = sceneSurround(song, sceneIndex).tempo?.value ?? song.tempoBpm;
  const isAtOnce =
    fn.shape.kind === 'range' &&
    timedWay(own?.way ?? null, scene.transition) !== null &&
    loadingIn(world, song, sceneIndex).has(device.id);
  return (
    <section className="in-hand-bar" aria-label="The cell in hand">
      <div className="in-hand-what">
        <TapeMark mark={device.mark} size={22} />
        <div>
          <div>
            <b>{fn.name}</b> in <Cloth text={scene.name} />
          </div>
          <span className="small muted">
            {device.name}, ch {functionChannel(device, fn) + 1}, {driveText(fn.drive, rig.middleC)},{' '}
            {rangeWords(device, fn)}
          </span>
        </div>
      </div>
      <div className="in-hand-value">
        <span className="small muted">
          {isTrigger
            ? isSet
              ? 'is sent when this scene begins'
              : 'not sent in this scene'
            : before
              ? `${shownText(device, fn, before.value)} in ${nth(song.scenes, sceneIndex - 1).name}`
              : 'not set before'}
          {isSet && cell.note !== undefined && (
            <>
              {'. '}
              <b>{cell.note}</b>
              {` is ${milliseconds(Math.round(noteMs(cell.note, bpm)))} at ${bpm} bpm, sent again when the tempo changes`}
            </>
          )}
          {other &&
            `. ${world.functions.get(other.by)?.fn.name ?? 'Another line'} writes the same in ${device.name} and took its place in ${nth(song.scenes, other.setIn).name}`}
          {own &&
            own.way?.kind !== 'at-once' &&
            isAtOnce &&
            `. Set at once: ${device.name} loads a program here`}
        </span>
        {!isTrigger && (
          <ValuePick label="Here" functionId={fn.id} value={value ?? firstOf(fn.shape)} onPick={set} />
        )}
      </div>
      {own && fn.shape.kind === 'range' && (
        <OwnWay song={song} sceneId={scene.id} functionId={fn.id} way={own.way} />
      )}
      <div className="bytes muted in-hand-bytes">
        {isSet
          ? messagesFor(device, fn, cell.value).map((m) => <div key={hex(encode(m))}>{hex(encode(m))}</div>)
          : 'sends nothing here'}
      </div>
      <span className="gap" />
      <div className="in-hand-buttons">
        {!isSet && (
          <Button variant="go" onClick={() => set(value ?? firstOf(fn.shape))}>
            {isTrigger ? 'Send here' : 'Set here'}
          </Button>
        )}
        <Button variant="quiet" disabled={!isSet} onClick={clear}>
          {isTrigger ? 'Do not send' : before || sceneIndex > 0 ? 'Carry over' : 'Clear'}
        </Button>
      </div>
    </section>
  );
}

const TYPED: Record<Exclude<CueRow['kind'], 'function'>, string> = {
  tempo: 'Type 20 to 400 bpm.',
  bank: 'Type a number or a bank’s name.',
  control: 'Type a function like Volume, Volume 20-110 or Reverb on; “as its bank” ends it.',
  route: 'Type on or off; a gate is open or closed.',
  armed:
    'Type the tracks with commas between, or none: exactly these are armed, a dash leaves them as they are.',
  remark: 'Type what the stage shows large.',
};

function OtherBar({ song, row, sceneIndex }: { song: Song; row: CueRow; sceneIndex: number }) {
  const edit = useEdit('songs');
  const world = useWorld();
  const scene = nth(song.scenes, sceneIndex);
  const said = cueCell(row, song, sheetState(song, world), sceneIndex);
  const isSet = said?.setIn === sceneIndex;
  const from = said && !isSet ? (song.scenes[said.setIn]?.name ?? 'the song') : null;
  return (
    <section className="in-hand-bar" aria-label="The cell in hand">
      <div>
        <b>{row.title}</b> in <Cloth text={scene.name} />
        <div className="small muted">{row.kind === 'function' ? '' : TYPED[row.kind]}</div>
      </div>
      <span>{said ? said.text : <span className="muted">not set</span>}</span>
      {from && <span className="small muted">carried from {from}</span>}
      <span className="gap" />
      <Button
        variant="quiet"
        disabled={!isSet}
        onClick={() => edit(song.id, `carry ${row.title} over`, (s) => withoutCell(s, row, sceneIndex))}
      >
        {row.kind === 'remark' ? 'Clear' : 'Carry over'}
      </Button>
    </section>
  );
}

const firstOf = (shape: Parameters<typeof valueBounds>[0]): number =>
  shape.kind === 'switch' ? 1 : valueBounds(shape).min;
