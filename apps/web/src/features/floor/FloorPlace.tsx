import type { FullRig } from '@idle-step/core/routing';
import { pagesOf, type Board, type Preset } from '@idle-step/core/floor';
import { pageInForce } from '@idle-step/core/engine';
import { Footprints, LayoutGrid, Pencil, Plus } from 'lucide-react';
import { useEffect, useState } from 'react';
import { Button, ButtonGroup, Dropdown } from 'react-bootstrap';
import { NavLink, useNavigate, useParams } from 'react-router-dom';
import { useCreateDoc } from '../../drafts/useDocChanges';
import { useEdit, usePresets, useRig } from '../../drafts/useDocs';
import { useIsShown, useLiveHost, useWorld } from '../../live/use/useLive';
import { StandInPanel } from '../../gear/StandInPanel';
import { TapeMark } from '../../ui/TapeMark';
import { Trouble } from '../../ui/Trouble';
import { useMeasure } from '../../ui/hooks/useMeasure';
import { BoardView } from '../../boards/BoardView';
import { PlaceHint } from '../../documents/PlaceHint';
import { DocumentHead } from '../../documents/DocumentHead';
import { isTyping } from '../../documents/useUndoKeys';
import { screenChanged } from '../../screen/screenSlice';
import { useAppDispatch, useAppSelector } from '../../store';
import { BankList } from './presets/BankList';
import { ControllerItems } from '../../gear/ControllerItems';
import { BoardRoom } from './board/BoardRoom';
import { ControlEditor } from './control/ControlEditor';
import { HandRoom } from './hand/HandRoom';
import { BoardStates } from './memory/BoardStates';
import { MemoryRoom } from './memory/MemoryRoom';
import { GroupList } from './presets/GroupList';
import { LayOutPanel } from './presets/LayOutPanel';
import { EMPTY_PRESET, newBank } from '../../edits/presetEdits';
import { PresetsRoom } from './presets/PresetsRoom';
import { SendsRoom } from './presets/SendsRoom';
import { TableRoom } from './table/TableRoom';
import { useLookedPages, type Looking } from './presets/useLookedPages';
import { nth } from '@idle-step/core/sure';

const MAX_SCALE = 0.834;
const MAX_HEIGHT_PX = 300;

const ROOMS = [
  { room: '', text: 'Controls' },
  { room: 'table', text: 'Table' },
  { room: 'sends', text: 'What it sends' },
  { room: 'presets', text: 'Presets' },
  { room: 'memory', text: 'To the board' },
  { room: 'by-hand', text: 'By hand' },
  { room: 'board', text: 'Board' },
] as const;

/** Only a board that works by itself is sent its preset, or set by hand. */
const roomsOf = ({ mode }: Board) =>
  ROOMS.filter(({ room }) => mode === 'standalone' || (room !== 'by-hand' && room !== 'memory'));

/** What every switch and pedal does, bank by bank; and the boards that they lie on. */
export function FloorPlace() {
  const { rig } = useRig();
  const { boardId, room = '' } = useParams();
  const world = useWorld();
  const isShown = useIsShown(rig?.id);
  const presets = usePresets(rig?.id);
  const [selected, setSelected] = useState<string | null>(null);
  const navigate = useNavigate();
  const host = useLiveHost();
  useEndOfPlay(boardId);
  if (!rig) return null;
  // What the boards of another rig, or of none, would be said to be.
  if (!isShown) return <p className="work-pad muted">Fetching the boards …</p>;
  const found = world.boards.findIndex((b) => b.board.id === boardId);
  const boardIndex = Math.max(0, found);
  const worldBoard = world.boards[boardIndex];
  if (!worldBoard)
    return (
      <div className="work-pad">
        <h1>Floor</h1>
        <NoBoard rig={rig} />
      </div>
    );
  const { device } = worldBoard;
  const board = rig.boards.find((b) => b.id === worldBoard.board.id);
  const preset = presets.find((p) => p.id === board?.presetId);
  if (!board) return null;
  const rooms = roomsOf(board);
  const open = rooms.find((r) => r.room === room)?.room ?? '';
  /** Opens a control in the bank or page that it was found in. */
  const goTo = (pageId: string, controlId: string) => {
    if (preset?.banks.some((b) => b.id === pageId))
      host.command({ kind: 'bank', boardId: board.id, to: { bankId: pageId } });
    setSelected(controlId);
    void navigate(`/floor/${board.id}`);
  };
  return (
    <div className="work-pad floor-place">
      <DocumentHead
        title="Floor"
        doc={preset ? { resource: 'presets', id: preset.id } : null}
        facts={
          <>
            <nav className="tabs" aria-label="Boards">
              {world.boards.map((b) => (
                <NavLink
                  key={b.board.id}
                  to={`/floor/${b.board.id}${open ? `/${open}` : ''}`}
                  className={b === worldBoard ? 'on' : ''}
                >
                  <TapeMark mark={b.device.mark} />
                  {b.device.name}
                </NavLink>
              ))}
            </nav>
            <AddBoard rig={rig} />
          </>
        }
      >
        <span className="gap" />
        <span className="muted small">
          {preset ? `${preset.name}, ` : ''}
          {board.isOnScreen ? 'on a screen' : board.mode}
        </span>
        {preset && board.mode === 'standalone' && <BoardStates {...{ rig, board, preset, presets }} />}
      </DocumentHead>
      <PlaceHint place="floor" />
      <div className="rooms-row">
        <nav className="tabs rooms" aria-label={`Rooms of ${device.name}`}>
          {rooms.map((r) => (
            <NavLink
              key={r.room}
              end
              to={`/floor/${board.id}${r.room ? `/${r.room}` : ''}`}
              className={r.room === open ? 'on' : ''}
            >
              {r.text}
            </NavLink>
          ))}
        </nav>
        {open === '' && preset && <EditOrPlay />}
      </div>
      {open === 'board' ? (
        <BoardRoom key={board.id} rig={rig} board={board} preset={preset ?? null} />
      ) : open === 'presets' ? (
        <PresetsRoom key={board.id} rig={rig} board={board} presets={presets} />
      ) : !preset ? (
        <NoPreset key={board.id} rigId={rig.id} boardId={board.id} deviceName={device.name} />
      ) : open === 'table' ? (
        <TableRoom key={preset.id} preset={preset} boardIndex={boardIndex} />
      ) : open === 'sends' ? (
        <SendsRoom key={preset.id} rig={rig} preset={preset} onGo={goTo} />
      ) : open === 'memory' ? (
        <MemoryRoom key={preset.id} {...{ rig, board, preset, presets }} onGo={goTo} />
      ) : open === 'by-hand' ? (
        <HandRoom key={preset.id} {...{ rig, board, preset }} onGo={goTo} />
      ) : (
        <Controls
          key={board.id}
          rig={rig}
          preset={preset}
          boardIndex={boardIndex}
          selected={selected}
          onSelect={setSelected}
        />
      )}
    </div>
  );
}

/** The board lies open and is live: set a thing, press it. */
function Controls({
  rig,
  preset,
  boardIndex,
  selected,
  onSelect,
}: {
  rig: FullRig;
  preset: Preset;
  boardIndex: number;
  selected: string | null;
  onSelect(controlId: string): void;
}) {
  const world = useWorld();
  const worldBoard = nth(world.boards, boardIndex);
  const { board } = worldBoard;
  const looking = useLookedPages(worldBoard, preset);
  const { pages: state } = looking;
  const [box, widthPx] = useMeasure(740);
  const [isLayingOut, setLayingOut] = useState(false);
  const plays = useAppSelector((s) => s.screen.floorPlays);
  const firstControl = board.controls[0]?.id ?? null;
  const controlId = board.controls.some((c) => c.id === selected) ? selected : firstControl;
  const bank = preset.banks.find((b) => b.id === state.banks[board.id]) ?? nth(preset.banks, 0);
  const pageId = controlId && pageInForce(worldBoard, state, controlId)?.bank.id;
  const page =
    [...preset.banks, ...preset.groups.flatMap((g) => g.pages)].find((b) => b.id === pageId) ?? bank;
  const scale = Math.min(MAX_SCALE, (widthPx - 8) / board.widthMm, MAX_HEIGHT_PX / board.heightMm);
  return (
    <>
      <div className="floor-top">
        <BankList preset={preset} worldBoard={worldBoard} looking={looking} />
        <div className="board-room" ref={box}>
          <BoardView
            world={world}
            boardIndex={boardIndex}
            scale={scale}
            size="full-size"
            selectedControlId={controlId}
            onSelect={onSelect}
            plays={plays && !looking.aside}
            looked={looking.aside ? state : null}
          />
          <NotInForce preset={preset} looking={looking} />
          <div className="board-foot">
            <GroupList preset={preset} board={board} looking={looking} />
            <Button variant="bare" aria-expanded={isLayingOut} onClick={() => setLayingOut(!isLayingOut)}>
              <LayoutGrid size={16} strokeWidth={1.75} aria-hidden="true" />
              Lay out by itself
            </Button>
          </div>
        </div>
      </div>
      {isLayingOut && (
        <LayOutPanel
          {...{ preset, bank, board }}
          pageOf={(g) => g.pages.find((p) => p.id === state.pages[g.id]) ?? g.pages[0]}
          onDone={() => setLayingOut(false)}
        />
      )}
      {controlId ? (
        <ControlEditor
          key={`${page.id}/${controlId}`}
          rig={rig}
          preset={preset}
          bank={page}
          boardIndex={boardIndex}
          controlId={controlId}
        />
      ) : (
        <p className="muted">
          This board has no control yet. Add switches, pads or knobs under Board; what they do is told here.
        </p>
      )}
      <StandIns rig={rig} />
    </>
  );
}

/** That a bank or page is looked at and is not in force, and how it comes into force. */
function NotInForce({ preset, looking }: { preset: Preset; looking: Looking }) {
  const page = pagesOf(preset).find((p) => p.id === looking.aside?.pageId);
  if (!page) return null;
  return (
    <p className="notice not-in-force" role="status">
      {page.name} is shown to be edited; what the feet play is another one.
      <Button variant="quiet" onClick={looking.putInForce}>
        Play {page.name}
      </Button>
      <Button variant="quiet" onClick={() => looking.look(null)}>
        Back to what plays
      </Button>
    </p>
  );
}

/** Playing by a click ends with the board that one leaves. */
function useEndOfPlay(boardId: string | undefined): void {
  const dispatch = useAppDispatch();
  useEffect(() => () => void dispatch(screenChanged({ floorPlays: false })), [dispatch, boardId]);
}

/** What a click on the board does: opens a control to edit it, or plays it. */
function EditOrPlay() {
  const dispatch = useAppDispatch();
  const plays = useAppSelector((s) => s.screen.floorPlays);
  useEffect(() => {
    const onKey = (event: KeyboardEvent) => {
      if (
        event.key.toLowerCase() !== 'p' ||
        event.ctrlKey ||
        event.metaKey ||
        event.altKey ||
        isTyping(event)
      )
        return;
      event.preventDefault();
      dispatch(screenChanged({ floorPlays: !plays }));
    };
    window.addEventListener('keydown', onKey);
    return () => window.removeEventListener('keydown', onKey);
  }, [dispatch, plays]);
  return (
    <ButtonGroup aria-label="A click on the board">
      <Button
        variant="quiet"
        aria-pressed={!plays}
        title="A click opens a control and presses nothing (P changes it)"
        onClick={() => dispatch(screenChanged({ floorPlays: false }))}
      >
        <Pencil size={16} strokeWidth={1.75} aria-hidden="true" />
        Edit
      </Button>
      <Button
        variant="quiet"
        aria-pressed={plays}
        title="A click plays the control, as a foot does (P changes it)"
        onClick={() => dispatch(screenChanged({ floorPlays: true }))}
      >
        <Footprints size={16} strokeWidth={1.75} aria-hidden="true" />
        Play
      </Button>
    </ButtonGroup>
  );
}

/** What the simulated gear shows. */
function StandIns({ rig }: { rig: FullRig }) {
  return (
    <div className="stand-ins">
      {rig.devices
        .filter((d) => d.standIn)
        .map((d, i) => (
          <StandInPanel key={d.id} device={d} withSound={i === 0} />
        ))}
    </div>
  );
}

/** A board more, in one of the ready shapes or empty, with hardware or on a screen. */
function AddBoard({ rig }: { rig: FullRig }) {
  const edit = useEdit('rigs');
  const navigate = useNavigate();
  return (
    <Dropdown>
      <Dropdown.Toggle variant="bare" className="no-caret">
        <Plus size={16} strokeWidth={1.75} aria-hidden="true" />
        Add a board
      </Dropdown.Toggle>
      <Dropdown.Menu className="long-menu">
        <ControllerItems
          rig={rig}
          onAdd={(made) => {
            edit(rig.id, 'add a board', () => made.rig);
            void navigate(`/floor/${made.boardId}/board`);
          }}
        />
      </Dropdown.Menu>
    </Dropdown>
  );
}

function NoBoard({ rig }: { rig: FullRig }) {
  return (
    <div className="empty-place">
      <h2>No board yet</h2>
      <p>
        A board is the face of a controller: its switches and pedals as they lie before your feet. Take one of
        the ready shapes, for example ten switches and two pedals, or build your own control by control.
      </p>
      <AddBoard rig={rig} />
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
      <h2>{deviceName} has no preset in force</h2>
      <p>
        A preset is everything this board is told: banks of assignments, one for each switch and pedal. For
        example: near 1 recalls snapshot 1, the pedal moves the volume. Ready-made ones lie under Presets.
      </p>
      <Button variant="go" onClick={() => void start()}>
        Start a preset
      </Button>
      <Trouble>{sentence}</Trouble>
    </div>
  );
}
