import {
  worldOfFeet,
  withMoves,
  type FeetModel,
  type LayoutFound,
  type LayoutWish,
} from '@idle-step/core/proof';
import { labelOf, type World, type WorldBank, type WorldBoard } from '@idle-step/core/engine';
import { isPressed } from '@idle-step/core/floor';
import { useMemo, useState } from 'react';
import { Button, Form, ProgressBar } from 'react-bootstrap';
import { whole } from '@idle-step/contract';
import { useEdit } from '../../drafts/useDocs';
import { foundIn, useLayout, type FullShow } from '../../proof/useProof';
import { Cloth } from '../../ui/Cloth';
import { NumberField, Pick } from '../../ui/Fields';
import { counted } from '../../words/counted';
import { SearchLine } from './SearchLine';

type Props = { show: FullShow; model: FeetModel };

/** What on which switch of which bank makes the evening easiest, beside today's. */
export function LayoutRoom({ show, model }: Props) {
  const world = useMemo(() => worldOfFeet(show), [show]);
  const boards = world.boards.filter((b) => b.preset && b.board.controls.some((c) => isPressed(c.kind)));
  const [boardId, setBoard] = useState<string | null>(null);
  const worldBoard = boards.find((b) => b.board.id === boardId) ?? boards[0];
  if (!worldBoard)
    return <p className="muted">There is no board with switches and a preset yet: begin one in Floor.</p>;
  return (
    <section aria-label="Layout" className="layout-room">
      <OfBoard
        key={worldBoard.board.id}
        {...{ show, world, model, worldBoard }}
        boards={boards}
        onBoard={setBoard}
      />
    </section>
  );
}

const Changes = whole('Changes', 0, 200);

function OfBoard({
  show,
  world,
  model,
  worldBoard,
  boards,
  onBoard,
}: Props & {
  world: World;
  worldBoard: WorldBoard;
  boards: readonly WorldBoard[];
  onBoard(id: string): void;
}) {
  const { board } = worldBoard;
  const [asked, setAsked] = useState<LayoutWish | null>(null);
  const [wish, setWish] = useState<LayoutWish>({
    boardId: board.id,
    fixed: [],
    isSameInEveryBank: false,
    foot: null,
    changesAtMost: null,
    isAcrossBanks: false,
  });
  const layout = useLayout(show, model, asked);
  const found = asked && foundIn(layout.state);
  const change = (part: Partial<LayoutWish>) => setWish((now) => ({ ...now, ...part }));
  return (
    <>
      <div className="dump-tools">
        {boards.length > 1 && (
          <Pick
            label="Board"
            value={board.id}
            options={boards.map((b) => ({ value: b.board.id, text: b.device.name }))}
            onPick={onBoard}
          />
        )}
        <Pick
          label="Feet"
          value={wish.foot ?? 'both'}
          options={['both', { value: 'left', text: 'left only' }, { value: 'right', text: 'right only' }]}
          onPick={(foot) => change({ foot: foot === 'both' ? null : foot })}
        />
        <NumberField
          label="Changes at most (0: any)"
          value={wish.changesAtMost ?? 0}
          schema={Changes}
          onCommit={(n) => change({ changesAtMost: n === 0 ? null : n })}
        />
        <Form.Check
          type="switch"
          id="same-in-every-bank"
          label="The same place in every bank"
          checked={wish.isSameInEveryBank}
          onChange={(e) => change({ isSameInEveryBank: e.target.checked })}
        />
        <Form.Check
          type="switch"
          id="across-banks"
          label="From bank to bank too"
          checked={wish.isAcrossBanks}
          disabled={wish.isSameInEveryBank}
          onChange={(e) => change({ isAcrossBanks: e.target.checked })}
        />
        <Button variant="go" onClick={() => setAsked({ ...wish })}>
          Look for an easier layout
        </Button>
      </div>
      <fieldset className="fixed-switches">
        <legend>Stay where they are</legend>
        {board.controls
          .filter((c) => isPressed(c.kind))
          .map((c) => (
            <Form.Check
              key={c.id}
              id={`fixed-${c.id}`}
              label={c.name}
              checked={wish.fixed.includes(c.id)}
              onChange={(e) =>
                change({
                  fixed: e.target.checked ? [...wish.fixed, c.id] : wish.fixed.filter((id) => id !== c.id),
                })
              }
            />
          ))}
      </fieldset>
      {asked && layout.state.kind === 'running' && found ? (
        <div className="notice search-line">
          <ProgressBar animated now={100} aria-label="Looking for an easier layout" />
          <span role="status">{counted(found.tried, 'layout')} tried; the best so far is below.</span>
          <Button variant="quiet" onClick={layout.cancel}>
            Cancel
          </Button>
        </div>
      ) : (
        asked && <SearchLine {...layout} what="Looking for an easier layout" />
      )}
      {found && <Proposal {...{ world, worldBoard, found }} isOver={layout.state.kind !== 'running'} />}
      {!asked && (
        <p className="muted">
          The presses of the press plan are taken, and what the switches of this board do is moved about until
          the feet have the least to do. Nothing is changed before you take it.
        </p>
      )}
    </>
  );
}

/** What was found, side by side with today's board, bank by bank. */
function Proposal({
  world,
  worldBoard,
  found,
  isOver,
}: {
  world: World;
  worldBoard: WorldBoard;
  found: LayoutFound;
  isOver: boolean;
}) {
  const edit = useEdit('presets');
  const { preset } = worldBoard;
  const changed = new Set(found.moves.flatMap((m) => [m.bankId, m.toBankId]));
  const isAcross = found.moves.some((m) => m.bankId !== m.toBankId);
  const banks = worldBoard.banks.filter((b) => changed.has(b.bank.id));
  const take = (bankId: string | null) => {
    if (!preset) return;
    const moves = found.moves.filter((m) => bankId === null || m.bankId === bankId);
    edit(preset.id, 'take a layout', (doc) => withMoves(doc, moves));
  };
  return (
    <>
      <p className="proof-sum">
        {savingText(found)} <span className="muted">{boundText(found, isOver)}</span>
        {banks.length > 0 && isOver && (
          <>
            <span className="gap" />
            <Button variant="go" onClick={() => take(null)}>
              Take it whole
            </Button>
          </>
        )}
      </p>
      {banks.map((bank) => (
        <div key={bank.bank.id} className="layout-bank">
          <h2>
            {bank.bank.name}
            {banks.length > 1 && !isAcross && isOver && (
              <Button variant="quiet" onClick={() => take(bank.bank.id)}>
                Take this bank
              </Button>
            )}
          </h2>
          <div className="layout-pair">
            <MiniBoard world={world} worldBoard={worldBoard} bank={bank} found={null} title="Today" />
            <MiniBoard world={world} worldBoard={worldBoard} bank={bank} found={found} title="Proposed" />
          </div>
        </div>
      ))}
    </>
  );
}

const timeText = (s: number): string =>
  Math.abs(s) < 1 ? `${Math.round(s * 1000)} ms` : `${s.toFixed(1)} s`;
const wayText = (mm: number): string =>
  Math.abs(mm) < 1000 ? `${Math.round(mm)} mm` : `${(mm / 1000).toFixed(1)} m`;

function savingText({ before, after, moves, presses, open }: LayoutFound): string {
  if (moves.length === 0)
    return `Nothing easier was found: feet need ${before.takesS.toFixed(1)} s as it is.`;
  const tight = before.tight - after.tight;
  const saved = presses.before - presses.after;
  const parts = [
    open.after < open.before
      ? counted(open.before - open.after, 'part that no press led to', 'parts that no press led to')
      : '',
    open.after === open.before && saved > 0 ? counted(saved, 'press', 'presses') : '',
    `${timeText(before.takesS - after.takesS)} of ${timeText(before.takesS)}`,
    `${wayText(before.distanceMm - after.distanceMm)} of ${wayText(before.distanceMm)}`,
    tight > 0 ? counted(tight, 'tight place') : '',
  ].filter(Boolean);
  return `Moving ${counted(moves.length, 'switch', 'switches')} saves ${parts.join(', ')}.`;
}

function boundText({ after, boundS, isProven, tried }: LayoutFound, isOver: boolean): string {
  if (isProven) return 'For these presses nothing is easier: that is proven.';
  const more = after.takesS <= 0 ? 0 : ((after.takesS - boundS) / after.takesS) * 100;
  return `At most ${more.toFixed(0)} % less is possible; ${counted(tried, 'layout')} ${isOver ? 'were tried' : 'tried so far'}.`;
}

/** A board to scale with what its switches do in a bank; what has moved is marked. */
function MiniBoard({
  world,
  worldBoard: { board, banks },
  bank,
  found,
  title,
}: {
  world: World;
  worldBoard: WorldBoard;
  bank: WorldBank;
  found: LayoutFound | null;
  title: string;
}) {
  const moves = found?.moves.filter((m) => m.toBankId === bank.bank.id) ?? [];
  const cameTo = new Map(moves.map((m) => [m.to, m]));
  const nameOf = (id: string) => board.controls.find((c) => c.id === id)?.name ?? '';
  const label = (of: WorldBank, id: string) => {
    const assignment = of.assignments.get(id);
    return assignment ? labelOf(world, assignment, 0) : '';
  };
  const bankOf = (id: string) => banks.find((b) => b.bank.id === id) ?? bank;
  return (
    <figure className="mini-board">
      <figcaption className="muted small">{title}</figcaption>
      <div data-bs-theme="dark" style={{ aspectRatio: `${board.widthMm} / ${board.heightMm}` }}>
        {board.controls.map((c, i) => {
          const move = cameTo.get(c.id);
          const text = move ? label(bankOf(move.bankId), move.from) : label(bank, c.id);
          const place = move && (move.bankId === bank.bank.id ? '' : `, ${bankOf(move.bankId).bank.name}`);
          return (
            <span
              key={c.id}
              className={move ? 'moved' : ''}
              title={c.name}
              style={{
                left: `${(c.xMm / board.widthMm) * 100}%`,
                top: `${(c.yMm / board.heightMm) * 100}%`,
                width: `${(c.widthMm / board.widthMm) * 100}%`,
                height: `${(c.heightMm / board.heightMm) * 100}%`,
              }}
              data-place={i}
            >
              {isPressed(c.kind) && <Cloth text={text || '–'} lit={move !== undefined} />}
              {move && (
                <small>
                  from {nameOf(move.from)}
                  {place}
                </small>
              )}
            </span>
          );
        })}
      </div>
    </figure>
  );
}
