import type { RigDoc } from '@idle-step/contract';
import { isUsable } from '@idle-step/core/gear';
import { Pick } from '../../ui/Fields';

const NONE = '';

/** Brings another function of the rig into the sheet. */
export function AddRow({
  rig,
  taken,
  onAdd,
}: {
  rig: RigDoc;
  taken: ReadonlySet<string>;
  onAdd(functionId: string): void;
}) {
  const options = rig.devices.flatMap((d) =>
    d.chart
      .filter((f) => !taken.has(f.id) && isUsable(d, f))
      .map((f) => ({ value: f.id, text: `${d.name}: ${f.name}` })),
  );
  if (options.length === 0) return null;
  return (
    <Pick
      hideLabel
      label="Add a function as a row"
      className="add-row"
      value={NONE}
      options={[{ value: NONE, text: '+ add a function …' }, ...options]}
      onPick={(id) => {
        if (id !== NONE) onAdd(id);
      }}
    />
  );
}
