import { type Preset, type Bank, copiedBank, type Board } from '@idle-step/core/floor';
import { Name, Remark } from '@idle-step/contract';
import { Copy, Eraser, Plus, X } from 'lucide-react';
import { useEffect, useRef } from 'react';
import { useEdit } from '../../../drafts/useDocs';
import { useLiveHost, useLiveOf, useWorld } from '../../../live/use/useLive';
import { TextField } from '../../../ui/Fields';
import { IconButton } from '../../../ui/IconButton';
import { moved } from '../../../edits/moved';
import { SortableList } from '../../../ui/SortableList';
import { ColourPick } from '../../../ui/ColourPick';
import { newBank, withPage } from '../../../edits/presetEdits';
import { freeName } from '../../../words/names';

/** The banks of a preset; the one chosen is the one that plays. */
export function BankList({ preset, board }: { preset: Preset; board: Board }) {
  const host = useLiveHost();
  const world = useWorld();
  const edit = useEdit('presets');
  const bankId = useLiveOf((live) => live.state.banks[board.id]);
  const now = Math.max(
    0,
    preset.banks.findIndex((b) => b.id === bankId),
  );
  const bank = preset.banks[now] ?? preset.banks[0]!;
  const controls = board.controls.length;
  const go = (index: number) => {
    const to = preset.banks[index]?.id;
    if (to !== undefined) host.command({ kind: 'bank', boardId: board.id, to: { bankId: to } });
  };
  // A new bank is shown as soon as what is played has it.
  const wanted = useRef<string | null>(null);
  useEffect(() => {
    const bankId = wanted.current;
    if (bankId === null || !world.boardById.get(board.id)?.banks.some((b) => b.bank.id === bankId)) return;
    wanted.current = null;
    host.command({ kind: 'bank', boardId: board.id, to: { bankId } });
  }, [world, host, board.id]);
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
    wanted.current = copy.id;
  };
  const most = board.mode === 'standalone' ? board.can.banks : null;
  return (
    <div className="banks">
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
            wanted.current = added.id;
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
                  {i === now ? ', playing' : ''}
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
            label={`Clear this bank: what ${bank.assignments.length} controls do; undo brings it back`}
            disabled={bank.assignments.length === 0}
            onClick={() => set('clear a bank', { assignments: [] })}
          />
          <IconButton
            icon={X}
            label="Remove this bank; undo brings it back"
            disabled={preset.banks.length < 2}
            onClick={() =>
              change(
                'remove a bank',
                preset.banks.filter((b) => b.id !== bank.id),
              )
            }
          />
        </div>
      </div>
    </div>
  );
}
