import { type Song, type TempoChange, barText } from '@idle-step/core/show';
import { readNumber } from '@idle-step/core/typed';
import { TempoBpm } from '@idle-step/contract';
import { Trash2, X } from 'lucide-react';
import { Form } from 'react-bootstrap';
import { useEdit } from '../../../drafts/useDocs';
import { mapTempo, withoutTempo } from '../../../edits/lineEdits';
import { TypedField } from '../../../ui/Fields';
import { IconButton } from '../../../ui/IconButton';
import { barBeatText, bpmText, parseBar, parseBarBeat } from '../../../words/times';
import { nth } from '@idle-step/core/sure';

/** The change of tempo in hand. */
export function TempoDetail({ song, tempo, onClose }: { song: Song; tempo: TempoChange; onClose(): void }) {
  const edit = useEdit('songs');
  const change = (part: Partial<TempoChange>) =>
    edit(song.id, 'change the tempo along the song', (s) => mapTempo(s, tempo.id, part));
  return (
    <section className="line-detail" aria-label="The change of tempo in hand">
      <div className="line-detail-head">
        <TypedField
          label="From bar, or bar and beat"
          className="narrow"
          shown={barBeatText(tempo)}
          parse={parseBarBeat}
          onCommit={change}
        />
        <TypedField
          label="Tempo, bpm"
          className="narrow"
          numeric
          placeholder="as it is"
          shown={tempo.bpm === null ? '' : bpmText(tempo.bpm)}
          parse={(text) => orNothing(text, parseTempo)}
          onCommit={(bpm) => change({ bpm })}
        />
        <TypedField
          label="Bar, like 4/4 or 6/8"
          className="narrow"
          placeholder="as it is"
          shown={
            tempo.beatsPerBar === null
              ? ''
              : barText({ beatsPerBar: tempo.beatsPerBar, beatUnit: tempo.beatUnit ?? 4 })
          }
          parse={(text) => orNothing(text, parseBar)}
          onCommit={(bar) => change(bar ?? { beatsPerBar: null, beatUnit: null })}
        />
        <Form.Check
          id={`gradual-${tempo.id}`}
          label="gradually"
          checked={tempo.isGradual}
          onChange={(e) => change({ isGradual: e.target.checked })}
        />
        {tempo.isGradual && (
          <TypedField
            label="since bar, or bar and beat"
            placeholder="the change before"
            shown={tempo.since === null ? '' : barBeatText(tempo.since)}
            parse={(text) => orNothing(text, parseBarBeat)}
            onCommit={(since) => change({ since })}
          />
        )}
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

type Typed<T> = { readonly value: T; readonly error?: undefined } | { readonly error: string };

/** What is typed, or nothing where it stays as it is. */
function orNothing<T>(text: string, parse: (text: string) => Typed<T>): Typed<T | null> {
  const trimmed = text.trim();
  return trimmed === '' || trimmed === '-' ? { value: null } : parse(trimmed);
}

/** A tempo in bpm. */
function parseTempo(text: string): Typed<number> {
  const result = TempoBpm.safeParse(readNumber(text) ?? text);
  return result.success ? { value: result.data } : { error: nth(result.error.issues, 0).message };
}
