import {
  type Song,
  type Part,
  barQuarters,
  lengthSeconds,
  partName,
  partsLengthS,
  partsOf,
  songLine,
  tempoIn,
} from '@idle-step/core/show';
import { measure, PartName, Remark } from '@idle-step/contract';
import { Plus, X } from 'lucide-react';
import { useState } from 'react';
import { Button, Dropdown } from 'react-bootstrap';
import { useEdit } from '../../../drafts/useDocs';
import { usePlace, useWorld } from '../../../live/use/useLive';
import { Cloth } from '../../../ui/Cloth';
import { NumberField, Pick, TextField } from '../../../ui/Fields';
import { IconButton } from '../../../ui/IconButton';
import { SortableList } from '../../../ui/SortableList';
import { mapPart, withoutPart, withPartAt, withPartMoved } from '../../../edits/songEdits';
import { minutes } from '../../../words/times';
import { counted } from '../../../words/counted';
import { nth } from '@idle-step/core/sure';

/** The order in which the scenes are played; a scene that comes again stands in it more than once. */
export function PartStrip({ song }: { song: Song }) {
  const edit = useEdit('songs');
  const world = useWorld();
  const place = usePlace();
  const [open, setOpen] = useState<string | null>(null);
  const parts = partsOf(song);
  const times = songLine(song).parts;
  const lengthS = partsLengthS(song);
  const index = parts.findIndex((p) => p.id === open);
  const inPlay = world.songs[place.songIndex];
  // By its identifier: what is left out this evening is not among the parts that are played.
  const playing = inPlay?.song.id === song.id ? inPlay.parts[place.partIndex ?? -1]?.id : undefined;
  const isWritten = song.parts.length > 0;
  return (
    <section className="parts" aria-label="Order of the parts">
      <div className="parts-line">
        <h2 className="muted">Parts</h2>
        <SortableList
          across
          items={parts}
          label="Parts in order"
          className="part-list"
          nameOf={(p) => partName(song, p)}
          onMove={(from, to) => edit(song.id, 'move a part', (s) => withPartMoved(s, from, to))}
          classOf={(p) => (p.id === playing ? 'playing' : '')}
          render={(part, i, handle) => {
            const at = nth(times, i);
            return (
              <>
                {handle}
                <button
                  type="button"
                  aria-expanded={open === part.id}
                  onClick={() => setOpen(open === part.id ? null : part.id)}
                  title={at.startS === null ? 'Length, name and remark' : `begins at ${minutes(at.startS)}`}
                >
                  <Cloth
                    text={partName(song, part)}
                    colour={song.scenes.find((s) => s.id === part.sceneId)?.colour ?? null}
                  />
                  <span className="num small muted">{lengthWords(part)}</span>
                </button>
              </>
            );
          }}
        />
        <Dropdown>
          <Dropdown.Toggle variant="bare" className="no-caret">
            <Plus size={16} strokeWidth={1.75} aria-hidden="true" />
            Part
          </Dropdown.Toggle>
          <Dropdown.Menu className="long-menu">
            {song.scenes.map((s) => (
              <Dropdown.Item
                key={s.id}
                as="button"
                onClick={() => edit(song.id, 'add a part', (x) => withPartAt(x, parts.length, s.id))}
              >
                {s.name}
              </Dropdown.Item>
            ))}
          </Dropdown.Menu>
        </Dropdown>
        <span className="small muted">
          {!isWritten
            ? 'each scene once'
            : lengthS === null
              ? counted(parts.length, 'part')
              : `${counted(parts.length, 'part')}, ${minutes(lengthS)}`}
        </span>
        {lengthS !== null && isWritten && Math.round(lengthS) !== Math.round(song.lengthS) && (
          <Button
            variant="quiet"
            onClick={() => edit(song.id, 'take the length of the parts', (s) => ({ ...s, lengthS }))}
          >
            Take {minutes(lengthS)} as the length
          </Button>
        )}
      </div>
      {index >= 0 && (
        <PartFields
          song={song}
          part={nth(parts, index)}
          onChange={(label, part) => {
            // Writing the order down gives the parts identifiers of their own: what is open stays open by its place.
            const next = mapPart(song, index, (p) => ({ ...p, ...part }));
            edit(song.id, label, () => next);
            setOpen(nth(next.parts, index).id);
          }}
          onRemove={() => {
            setOpen(null);
            edit(song.id, 'take a part out', (s) => withoutPart(s, index));
          }}
        />
      )}
    </section>
  );
}

function PartFields({
  song,
  part,
  onChange,
  onRemove,
}: {
  song: Song;
  part: Part | ReturnType<typeof partsOf>[number];
  onChange(label: string, part: Partial<Part>): void;
  onRemove(): void;
}) {
  const { length } = part;
  const bpm = tempoIn(song, part.sceneId);
  return (
    <div className="part-fields" role="group" aria-label={`Part ${partName(song, part)}`}>
      <TextField
        label="Name, where it is not its scene’s"
        value={part.name}
        placeholder={partName(song, { ...part, name: '' })}
        schema={PartName}
        onCommit={(name) => onChange('rename a part', { name })}
      />
      <Pick
        label="Length"
        value={length?.unit ?? 'open'}
        options={[
          { value: 'open', text: 'not known' },
          { value: 'bars', text: 'in bars' },
          { value: 'beats', text: 'in beats' },
          { value: 's', text: 'in seconds' },
        ]}
        onPick={(unit) =>
          onChange('change the length of a part', {
            length: unit === 'open' ? null : { amount: length?.amount ?? 8, unit: unit },
          })
        }
      />
      {length && (
        <>
          <NumberField
            label={length.unit === 's' ? 'Seconds' : length.unit === 'bars' ? 'Bars' : 'Beats'}
            className="tiny"
            value={length.amount}
            schema={measure('Length', 0, 36_000, length.unit)}
            onCommit={(amount) => onChange('change the length of a part', { length: { ...length, amount } })}
          />
          <span className="muted part-time">
            = {lengthSeconds(length, bpm, barQuarters(song)).toFixed(2)} s at {bpm} bpm
          </span>
        </>
      )}
      <TextField
        label="Remark of this part"
        value={part.remark}
        schema={Remark}
        onCommit={(remark) => onChange('change a remark', { remark })}
      />
      <IconButton line icon={X} label="Take this part out; its scene stays" onClick={onRemove} />
    </div>
  );
}

/** Example: `8 bars`. */
function lengthWords({
  length,
}: {
  readonly length: { readonly amount: number; readonly unit: string } | null;
}): string {
  if (!length) return '';
  const unit = length.amount === 1 && length.unit !== 's' ? length.unit.slice(0, -1) : length.unit;
  return `${length.amount} ${unit}`;
}
