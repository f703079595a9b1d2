import { Name, type PresetDoc } from '@idle-step/contract';
import type { Board } from '@idle-step/core/floor';
import { Plus, X } from 'lucide-react';
import { useEdit } from '../../drafts/useDocs';
import { useLive, useLiveHost } from '../../live/useLive';
import { TextField } from '../../ui/Fields';
import { IconButton } from '../../ui/IconButton';
import { newBank } from './presetEdits';

/** The banks of a preset; the one chosen is the one that plays. */
export function BankList({ preset, board }: { preset: PresetDoc; board: Board }) {
  const host = useLiveHost();
  const edit = useEdit('presets');
  const { state } = useLive();
  const now = state.banks[board.id] ?? 0;
  const controls = board.controls.length;
  const go = (index: number) => {
    const step = index > now ? 'up' : 'down';
    for (let i = 0; i < Math.abs(index - now); i++)
      host.command({ kind: 'bank', boardId: board.id, to: step });
  };
  return (
    <div className="banks">
      <div className="banks-head">
        <h2 className="muted">Banks</h2>
        <IconButton
          icon={Plus}
          label="Add a bank"
          onClick={() =>
            edit(preset.id, 'add a bank', (p) => ({ ...p, banks: [...p.banks, newBank(p.banks.length + 1)] }))
          }
        />
      </div>
      <ol>
        {preset.banks.map((bank, i) => (
          <li key={bank.id} className={i === now ? 'on' : ''}>
            <button type="button" aria-pressed={i === now} onClick={() => go(i)}>
              <span className="num muted">{i + 1}</span>
              <span>
                <span className="bank-name">{bank.name}</span>
                <span className="small muted">
                  {bank.assignments.length} of {controls}
                  {i === now ? ', playing' : ''}
                </span>
              </span>
            </button>
          </li>
        ))}
      </ol>
      <div className="bank-edit">
        <TextField
          hideLabel
          label="Name of this bank"
          value={preset.banks[now]?.name ?? ''}
          schema={Name}
          onCommit={(name) =>
            edit(preset.id, 'rename a bank', (p) => ({
              ...p,
              banks: p.banks.map((b, i) => (i === now ? { ...b, name } : b)),
            }))
          }
        />
        <IconButton
          icon={X}
          label="Remove this bank; undo brings it back"
          disabled={preset.banks.length < 2}
          onClick={() =>
            edit(preset.id, 'remove a bank', (p) => ({ ...p, banks: p.banks.filter((_, i) => i !== now) }))
          }
        />
      </div>
    </div>
  );
}
