import type { FullRig } from '@idle-step/core/routing';
import type { Preset } from '@idle-step/core/floor';
import { memo } from 'react';

import { isUsable } from '@idle-step/core/gear';
import { FilterPick } from '../../../ui/FilterPick';
import { allCueRows } from '@idle-step/core/sheet';

/** Brings another line into the sheet: a function of the rig, the tempo, a bank, a route, a remark. */
export const AddRow = memo(AddRowPick, (a, b) => {
  const isSame = a.rig === b.rig && a.presets === b.presets && a.onAdd === b.onAdd;
  return isSame && a.taken.size === b.taken.size && [...a.taken].every((key) => b.taken.has(key));
});

function AddRowPick({
  rig,
  presets,
  taken,
  onAdd,
}: {
  rig: FullRig;
  presets: readonly Preset[];
  taken: ReadonlySet<string>;
  onAdd(key: string): void;
}) {
  const rows = allCueRows(rig, presets).filter(
    (row) => !taken.has(row.key) && (row.kind !== 'function' || isUsable(row.device, row.fn)),
  );
  if (rows.length === 0) return null;
  const words = (row: (typeof rows)[number]) =>
    row.kind === 'function' ? `${row.device.name}: ${row.title}` : row.title;
  return (
    <FilterPick
      hideLabel
      label="Add a line to the sheet"
      className="add-row"
      placeholder="+ add a line: type a part of its name"
      value={null}
      options={[
        ...rows.filter((r) => r.kind !== 'function' && r.kind !== 'control'),
        ...rows.filter((r) => r.kind === 'function'),
        ...rows.filter((r) => r.kind === 'control'),
      ].map((r) => ({ value: r.key, text: words(r) }))}
      onPick={onAdd}
    />
  );
}
