import type { SetEntry, Song } from '@idle-step/core/show';
import { Remark } from '@idle-step/contract';
import { Form } from 'react-bootstrap';
import { TextField, TypedField } from '../../ui/Fields';
import { minutes, parseMinutes } from '../../words/times';

/** What is different with one line this evening. */
export function EntryMore({
  entry,
  song,
  onChange,
}: {
  entry: SetEntry;
  song: Song | undefined;
  onChange(entry: SetEntry): void;
}) {
  return (
    <div className="entry-more" role="group" aria-label="This evening">
      <Form.Check
        id={`encore-${entry.id}`}
        label="encore"
        checked={entry.isEncore}
        onChange={(e) => onChange({ ...entry, isEncore: e.target.checked })}
      />
      {entry.kind === 'song' && (
        <TypedField
          label="Length this evening, min"
          className="narrow"
          numeric
          placeholder={song ? minutes(song.lengthS) : ''}
          shown={entry.lengthS === null ? '' : minutes(entry.lengthS)}
          parse={(text) => (text.trim() === '' ? { value: null } : parseMinutes(text))}
          onCommit={(lengthS) => onChange({ ...entry, lengthS })}
        />
      )}
      <TextField
        label="Remark"
        value={entry.remark}
        schema={Remark}
        onCommit={(remark) => onChange({ ...entry, remark })}
      />
      {entry.kind === 'song' && song && song.scenes.length > 0 && (
        <fieldset className="left-out">
          <legend className="small muted">Played this evening</legend>
          {song.scenes.map((scene) => (
            <Form.Check
              key={scene.id}
              inline
              id={`left-${entry.id}-${scene.id}`}
              label={scene.name}
              checked={!entry.leftOutSceneIds.includes(scene.id)}
              onChange={(e) =>
                onChange({
                  ...entry,
                  leftOutSceneIds: e.target.checked
                    ? entry.leftOutSceneIds.filter((id) => id !== scene.id)
                    : [...entry.leftOutSceneIds, scene.id],
                })
              }
            />
          ))}
        </fieldset>
      )}
    </div>
  );
}
