import { bankIndex, reachedBanks, type WorldBoard } from '@idle-step/core/engine';
import { type Preset, type Bank, copiedBank } from '@idle-step/core/floor';
import { Name, Remark } from '@idle-step/contract';
import { Copy, Eraser, Plus, X } from 'lucide-react';
import { useEffect, useMemo, useRef } from 'react';
import { useEdit } from '../../../drafts/useDocs';
import { useLiveHost, useLiveState, useWorld } from '../../../live/use/useLive';
import { TextField } from '../../../ui/Fields';
import { IconButton } from '../../../ui/IconButton';
import { moved } from '../../../edits/moved';
import { SortableList } from '../../../ui/SortableList';
import { ColourPick } from '../../../ui/ColourPick';
import { newBank, withPage } from '../../../edits/presetEdits';
import { freeName } from '../../../words/names';
import type { Looking } from './useLookedPages';
import { counted } from '../../../words/counted';
import { nth } from '@idle-step/core/sure';

/** The banks of a preset. The one chosen is the one that plays; a new one is only looked at first. */
export function BankList({
  preset,
  worldBoard,
  looking,
}: {
  preset: Preset;
  worldBoard: WorldBoard;
  looking: Looking;
}) {
  const { board } = worldBoard;
  const host = useLiveHost();
  const world = useWorld();
  const edit = useEdit('presets');
  const playing = bankIndex(worldBoard, useLiveState('banks', 'pages'));
  const now = Math.max(
    0,
    preset.banks.findIndex((b) => b.id === looking.pages.banks[board.id]),
  );
  const box = useRef<HTMLDivElement>(null);
  // One that was added stands below what is in sight.
  useEffect(() => {
    box.current?.querySelector('li.on')?.scrollIntoView({ block: 'nearest' });
  }, [now]);
  const reached = useMemo(() => reachedBanks(world, worldBoard), [world, worldBoard]);
  const bank = preset.banks[now] ?? nth(preset.banks, 0);
  const controls = board.controls.length;
  const go = (index: number) => {
    const to = preset.banks[index]?.id;
    if (to === undefined) return;
    looking.look(null);
    host.command({ kind: 'bank', boardId: board.id, to: { bankId: to } });
  };
  const change = (label: string, banks: Bank[]) => edit(preset.id, label, (p) => ({ ...p, banks }));
  const set = (label: string, part: Partial<Bank>) =>
    edit(preset.id, label, (p) => withPage(p, bank.id, (b) => ({ ...b, ...part })));
  const nameFor = (wanted: string) =>
    freeName(
      preset.banks.map((b) => b.name),
      wanted,
    );
  const duplicate = () => {
    const copy = copiedBank(bank, nameFor(bank.name), () => crypto.randomUUID());
    change('duplicate a bank', [...preset.banks.slice(0, now + 1), copy, ...preset.banks.slice(now + 1)]);
    looking.look({ groupId: null, pageId: copy.id });
  };
  const most = board.mode === 'standalone' ? board.can.banks : null;
  return (
    <div className="banks" ref={box}>
      <div className="banks-head">
        <h2 className="muted">Banks</h2>
        <span className="gap" />
        <IconButton icon={Copy} label="Duplicate this bank" onClick={duplicate} />
        <IconButton
          icon={Plus}
          label="Add a bank"
          onClick={() => {
            const added = { ...newBank(1), name: nameFor(`Bank ${preset.banks.length + 1}`) };
            change('add a bank', [...preset.banks, added]);
            looking.look({ groupId: null, pageId: added.id });
          }}
        />
      </div>
      <SortableList
        items={preset.banks}
        label="Banks in order"
        nameOf={(b) => b.name}
        onMove={(from, to) => change('move a bank', moved(preset.banks, from, to))}
        classOf={(b) => (b.id === bank.id ? 'on' : '')}
        render={(b, i, handle) => (
          <>
            {handle}
            <button type="button" aria-pressed={i === now} onClick={() => go(i)}>
              <span className="num muted">{i + 1}</span>
              <span>
                <span className={`bank-name ${b.colour ? `t-${b.colour} coloured` : ''}`}>{b.name}</span>
                <span className="small muted">
                  {b.assignments.length} of {controls}
                  {i === playing ? ', playing' : ''}
                  {worldBoard.banks.some((w) => w.bank.id === b.id) && !reached.has(b.id) && (
                    <span
                      className="unreached"
                      title="No switch of this board leads to it, and no scene chooses it. Give a switch the job “turn the bank”."
                    >
                      no switch leads here
                    </span>
                  )}
                </span>
              </span>
            </button>
          </>
        )}
      />
      {most !== null && preset.banks.length > most && (
        <p className="field-error small" role="alert">
          This board keeps {most} banks by itself; here are {preset.banks.length}.
        </p>
      )}
      <BankEdit
        bank={bank}
        set={set}
        onRemove={
          preset.banks.length < 2
            ? null
            : () =>
                change(
                  'remove a bank',
                  preset.banks.filter((b) => b.id !== bank.id),
                )
        }
      />
    </div>
  );
}

/** What the bank in hand is called, its colour and its remark. */
function BankEdit({
  bank,
  set,
  onRemove,
}: {
  bank: Bank;
  set(label: string, part: Partial<Bank>): void;
  /** `null` for the last one. */
  onRemove: (() => void) | null;
}) {
  return (
    <div className="bank-edit">
      <TextField
        hideLabel
        label="Name of this bank"
        value={bank.name}
        schema={Name}
        onCommit={(name) => set('rename a bank', { name })}
      />
      <TextField
        hideLabel
        label="Remark on this bank"
        placeholder="remark"
        value={bank.remark}
        schema={Remark}
        onCommit={(remark) => set('remark on a bank', { remark })}
      />
      <div className="bank-tools">
        <ColourPick
          label="Colour of this bank"
          value={bank.colour}
          onPick={(colour) => set('colour a bank', { colour })}
        />
        <IconButton
          icon={Eraser}
          label={`Clear this bank: what ${counted(bank.assignments.length, 'control does', 'controls do')}; undo brings it back`}
          disabled={bank.assignments.length === 0}
          onClick={() => set('clear a bank', { assignments: [] })}
        />
        <IconButton
          icon={X}
          label="Remove this bank; undo brings it back"
          disabled={onRemove === null}
          onClick={() => onRemove?.()}
        />
      </div>
    </div>
  );
}
