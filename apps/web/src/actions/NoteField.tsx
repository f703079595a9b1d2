import { noteLabel, parseNote } from '@idle-step/core/midi';
import { useWorld } from '../live/use/useLive';
import { TypedField } from '../ui/Fields';

/** A note by number or name, shown as both. */
export function NoteField({
  label,
  value,
  onCommit,
}: {
  label: string;
  value: number;
  onCommit(note: number): void;
}) {
  const { middleC } = useWorld().show.rig;
  return (
    <TypedField
      label={label}
      className="narrow"
      numeric
      shown={noteLabel(value, middleC)}
      parse={(text) => {
        const result = parseNote(text.trim().split(/\s+/)[0] ?? '', middleC);
        return result.ok
          ? { value: result.value }
          : { error: `“${text}” is no note; 0 to 127 or a name like C3 would be right.` };
      }}
      onCommit={onCommit}
    />
  );
}
