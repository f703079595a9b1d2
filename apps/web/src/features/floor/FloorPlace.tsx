import { useState } from 'react';
import { Button } from 'react-bootstrap';
import { NavLink, useNavigate, useParams } from 'react-router-dom';
import { useCreateDoc } from '../../drafts/useDocChanges';
import { useEdit, usePresets, useRig } from '../../drafts/useDocs';
import { useLive } from '../../live/useLive';
import { StandInPanel } from '../../ui/StandInPanel';
import { TapeMark } from '../../ui/TapeMark';
import { useMeasure } from '../../ui/useMeasure';
import { BoardView } from '../frame/BoardView';
import { SaveState } from '../frame/SaveState';
import { BankList } from './BankList';
import { ControlEditor } from './ControlEditor';
import { EMPTY_PRESET, newBank } from './presetEdits';

const MAX_SCALE = 0.834;

/** What every switch and pedal does, bank by bank. The board lies open and is live: set a thing, press it. */
export function FloorPlace() {
  const { rig } = useRig();
  const { boardId } = useParams();
  const { world, state, standIns } = useLive();
  const presets = usePresets(rig?.id);
  const [box, widthPx] = useMeasure(740);
  const [selected, setSelected] = useState<string | null>(null);
  const found = world.boards.findIndex((b) => b.board.id === boardId);
  const boardIndex = Math.max(0, found);
  const worldBoard = world.boards[boardIndex];
  const firstControl = worldBoard?.board.controls[0]?.id ?? null;
  const controlId = worldBoard?.board.controls.some((c) => c.id === selected) ? selected : firstControl;
  if (!rig) return null;
  if (!worldBoard)
    return (
      <div className="work-pad">
        <h1>Floor</h1>
        <NoBoard />
      </div>
    );
  const { board, device } = worldBoard;
  const preset = presets.find((p) => p.id === board.presetId);
  const bank = preset?.banks[state.banks[board.id] ?? 0];
  const scale = Math.min(MAX_SCALE, (widthPx - 8) / board.widthMm);
  return (
    <div className="work-pad floor-place">
      <div className="place-head">
        <h1>Floor</h1>
        <nav className="tabs" aria-label="Boards">
          {world.boards.map((b) => (
            <NavLink key={b.board.id} to={`/floor/${b.board.id}`} className={b === worldBoard ? 'on' : ''}>
              <TapeMark mark={b.device.mark} />
              {b.device.name}
            </NavLink>
          ))}
        </nav>
        {preset && <SaveState resource="presets" id={preset.id} />}
        <span className="gap" />
        <span className="muted small">
          {board.widthMm} × {board.heightMm} mm, drawn to scale
        </span>
      </div>
      {!preset || !bank ? (
        <NoPreset key={board.id} rigId={rig.id} boardId={board.id} deviceName={device.name} />
      ) : (
        <>
          <div className="floor-top">
            <BankList preset={preset} board={board} />
            <div className="board-room" ref={box}>
              <BoardView
                world={world}
                state={state}
                boardIndex={boardIndex}
                scale={scale}
                size="full-size"
                selectedControlId={controlId}
                onSelect={setSelected}
              />
            </div>
          </div>
          {controlId && (
            <ControlEditor
              key={`${bank.id}/${controlId}`}
              preset={preset}
              bank={bank}
              boardIndex={boardIndex}
              controlId={controlId}
            />
          )}
          <div className="stand-ins">
            {rig.devices.map((d) => {
              const standIn = standIns.get(d.id);
              return standIn && <StandInPanel key={d.id} device={d} standIn={standIn} />;
            })}
          </div>
        </>
      )}
    </div>
  );
}

function NoBoard() {
  const navigate = useNavigate();
  return (
    <div className="empty-place">
      <h2>No board yet</h2>
      <p>
        A board is the face of a controller: its switches and pedals as they lie before your feet. Add one in
        Rig first.
      </p>
      <Button variant="go" onClick={() => void navigate('/rig')}>
        Go to Rig
      </Button>
    </div>
  );
}

/** A board without a preset sends, but nothing follows; one press gives it one. */
function NoPreset({ rigId, boardId, deviceName }: { rigId: string; boardId: string; deviceName: string }) {
  const create = useCreateDoc();
  const edit = useEdit('rigs');
  const [sentence, setSentence] = useState<string | null>(null);
  const start = async () => {
    const id = crypto.randomUUID();
    const refused = await create('presets', {
      id,
      rigId,
      boardId,
      ...EMPTY_PRESET,
      name: 'First preset',
      banks: [newBank(1)],
    });
    if (refused) {
      setSentence(refused.sentence);
      return;
    }
    edit(rigId, 'put a preset in force', (rig) => ({
      ...rig,
      boards: rig.boards.map((b) => (b.id === boardId ? { ...b, presetId: id } : b)),
    }));
  };
  return (
    <div className="empty-place">
      <h2>{deviceName} has no preset yet</h2>
      <p>
        A preset is everything this board is told: banks of assignments, one for each switch and pedal. For
        example: near 1 recalls snapshot 1, the pedal moves the volume.
      </p>
      <Button variant="go" onClick={() => void start()}>
        Start a preset
      </Button>
      {sentence && (
        <p className="field-error" role="alert">
          {sentence}
        </p>
      )}
    </div>
  );
}
