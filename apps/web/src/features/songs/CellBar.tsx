import type { RigDoc, SongDoc } from '@idle-step/contract';
import { functionTable } from '@idle-step/contract';
import { functionChannel, messagesFor, shownText, valueBounds } from '@idle-step/core/gear';
import { encode, hex } from '@idle-step/core/midi';
import { sceneCells } from '@idle-step/core/show';
import { Button } from 'react-bootstrap';
import { useEdit } from '../../drafts/useDocs';
import { Cloth } from '../../ui/Cloth';
import { TapeMark } from '../../ui/TapeMark';
import { ValuePick } from '../../gear/FunctionPick';
import { driveText } from '@idle-step/core/formats';
import { rangeWords } from '../../words/chartWords';
import type { CellAt } from './inHand';
import { withoutValue, withValue } from '../../edits/songEdits';

/** The cell in hand: what it was before, what it becomes, and the bytes of it. */
export function CellBar({ rig, song, at }: { rig: RigDoc; song: SongDoc; at: CellAt }) {
  const edit = useEdit('songs');
  const found = functionTable(rig).get(at.functionId);
  const scene = song.scenes[at.sceneIndex];
  if (!found || !scene) return null;
  const { device, fn } = found;
  const cell = sceneCells(song, at.sceneIndex).get(fn.id);
  const before = at.sceneIndex > 0 ? sceneCells(song, at.sceneIndex - 1).get(fn.id) : undefined;
  const isSet = cell?.setIn === at.sceneIndex;
  const isTrigger = fn.shape.kind === 'trigger';
  const set = (value: number) => edit(song.id, `set ${fn.name}`, (s) => withValue(s, scene.id, fn.id, value));
  const clear = () => edit(song.id, `carry ${fn.name} over`, (s) => withoutValue(s, scene.id, fn.id));
  const value = cell?.value ?? before?.value;
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
              ? `${shownText(device, fn, before.value)} in ${song.scenes[at.sceneIndex - 1]!.name}`
              : 'not set before'}
        </span>
        {!isTrigger && (
          <ValuePick label="Here" functionId={fn.id} value={value ?? firstOf(fn.shape)} onPick={set} />
        )}
      </div>
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
          {isTrigger ? 'Do not send' : before || at.sceneIndex > 0 ? 'Carry over' : 'Clear'}
        </Button>
      </div>
    </section>
  );
}

const firstOf = (shape: Parameters<typeof valueBounds>[0]): number =>
  shape.kind === 'switch' ? 1 : valueBounds(shape).min;
