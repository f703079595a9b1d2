import { BarNumber, measure, whole, type SongDoc, type TempoChangeDoc } from '@idle-step/contract';
import { Trash2, X } from 'lucide-react';
import { Form } from 'react-bootstrap';
import { useEdit } from '../../drafts/useDocs';
import { mapTempo, withoutTempo } from '../../edits/lineEdits';
import { NumberField, TypedField } from '../../ui/Fields';
import { IconButton } from '../../ui/IconButton';

const Tempo = measure('Tempo', 20, 400, 'bpm');
const Beats = whole('Beats to the bar', 1, 16);

/** The change of tempo in hand. */
export function TempoDetail({
  song,
  tempo,
  onClose,
}: {
  song: SongDoc;
  tempo: TempoChangeDoc;
  onClose(): void;
}) {
  const edit = useEdit('songs');
  const change = (part: Partial<TempoChangeDoc>) =>
    edit(song.id, 'change the tempo along the song', (s) => mapTempo(s, tempo.id, part));
  return (
    <section className="line-detail" aria-label="The change of tempo in hand">
      <div className="line-detail-head">
        <NumberField
          label="From bar"
          className="narrow"
          value={tempo.bar}
          schema={BarNumber}
          onCommit={(bar) => change({ bar })}
        />
        <TypedField
          label="Tempo, bpm"
          className="narrow"
          numeric
          placeholder="as it is"
          shown={tempo.bpm === null ? '' : String(tempo.bpm)}
          parse={(text) => orNothing(text, Tempo)}
          onCommit={(bpm) => change({ bpm })}
        />
        <TypedField
          label="Beats to the bar"
          className="narrow"
          numeric
          placeholder="as it is"
          shown={tempo.beatsPerBar === null ? '' : String(tempo.beatsPerBar)}
          parse={(text) => orNothing(text, Beats)}
          onCommit={(beatsPerBar) => change({ beatsPerBar })}
        />
        <Form.Check
          id={`gradual-${tempo.id}`}
          label="gradually, since the change before"
          checked={tempo.isGradual}
          onChange={(e) => change({ isGradual: e.target.checked })}
        />
        <span className="gap" />
        <IconButton
          icon={Trash2}
          label="Remove this change of tempo"
          onClick={() => {
            edit(song.id, 'remove a change of tempo', (s) => withoutTempo(s, tempo.id));
            onClose();
          }}
        />
        <IconButton icon={X} label="Close" onClick={onClose} />
      </div>
    </section>
  );
}

/** A number, or nothing where it stays as it is. */
function orNothing(
  text: string,
  schema: typeof Tempo | typeof Beats,
): { value: number | null; error?: undefined } | { error: string } {
  const trimmed = text.trim().replace(',', '.');
  if (trimmed === '' || trimmed === '-') return { value: null };
  const result = schema.safeParse(Number.isNaN(Number(trimmed)) ? text : Number(trimmed));
  return result.success ? { value: result.data } : { error: result.error.issues[0]!.message };
}
