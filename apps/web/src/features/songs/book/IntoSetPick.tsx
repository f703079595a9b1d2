import type { SetSummary } from '@idle-step/contract';
import { Pick } from '../../../ui/Fields';
import { freeName } from '../../../words/names';
import type { IntoSet } from './useTakeSongs';

/** Where new songs are put. */
export function IntoSetPick({
  sets,
  into,
  onInto,
}: {
  sets: readonly SetSummary[];
  into: IntoSet;
  onInto(into: IntoSet): void;
}) {
  const nextName = freeName(
    sets.map((s) => s.name),
    'New set',
  );
  return (
    <Pick
      label="Put them into"
      value={into.kind === 'set' ? into.id : into.kind}
      options={[
        { value: 'none', text: 'no set' },
        { value: 'new', text: `a new set, ${nextName}` },
        ...sets.map((s) => ({ value: s.id, text: s.name })),
      ]}
      onPick={(value) =>
        onInto(
          value === 'none'
            ? { kind: 'none' }
            : value === 'new'
              ? { kind: 'new', name: nextName }
              : { kind: 'set', id: value },
        )
      }
    />
  );
}
