import { partOf, readRigFile, writeRigFile, type Wanted } from '@idle-step/contract';
import type { FullRig } from '@idle-step/core/routing';
import { FileDown } from 'lucide-react';
import { useState } from 'react';
import { Button, Form } from 'react-bootstrap';
import { Link } from 'react-router-dom';
import { usePresets, useRig, useSetList, useSongList } from '../../drafts/useDocs';
import { useWholeRigs } from '../../drafts/whole/useWholeRigs';
import { saveTextFile } from '../../files/saveTextFile';
import { SearchField } from '../../ui/SearchField';
import { Trouble } from '../../ui/Trouble';
import { counted } from '../../words/counted';

/** A part of the rig in use as a file for somebody else, with the gear that it needs. */
export function SharePlace() {
  const { rig } = useRig();
  return rig ? <Share key={rig.id} rig={rig} /> : <p className="work-pad muted">There is no rig yet.</p>;
}

type Kind = keyof Wanted;
const NOTHING: Record<Kind, readonly string[]> = { setIds: [], songIds: [], presetIds: [], deviceIds: [] };

function Share({ rig }: { rig: FullRig }) {
  const presets = usePresets(rig.id);
  const sets = useSetList(rig.id).items;
  const songs = useSongList(rig.id).items;
  const charts = rig.devices.filter((d) => d.chart.length > 0);
  const whole = useWholeRigs();
  const [chosen, setChosen] = useState(NOTHING);
  const [busy, setBusy] = useState<string | null>(null);
  const [trouble, setTrouble] = useState<string | null>(null);
  const count = Object.values(chosen).reduce((sum, ids) => sum + ids.length, 0);
  const toggle = (kind: Kind, id: string, isOn: boolean) =>
    setChosen((now) => ({ ...now, [kind]: isOn ? [...now[kind], id] : now[kind].filter((x) => x !== id) }));
  const save = async () => {
    setBusy('Reading the rig …');
    setTrouble(null);
    const got = await whole.text(rig.id, (how) => setBusy(`Reading the rig: ${how}`));
    const read = 'sentence' in got ? { error: got.sentence } : readRigFile(await got.file.text());
    setBusy(null);
    if (read.error !== undefined) {
      setTrouble(`Nothing was saved: ${read.error}`);
      return;
    }
    const wanted: Wanted = {
      setIds: new Set(chosen.setIds),
      songIds: new Set(chosen.songIds),
      presetIds: new Set(chosen.presetIds),
      deviceIds: new Set(chosen.deviceIds),
    };
    const part = partOf(read.file, wanted);
    const [only] = [...part.sets, ...part.presets, ...part.songs];
    const name = count === 1 && only ? only.name : `${rig.name}, a part`;
    saveTextFile(`${name}.part.json`, 'application/json', writeRigFile(part));
  };
  const lists = [
    { kind: 'setIds', title: 'Sets, with their songs', items: sets },
    { kind: 'songIds', title: 'Songs', items: songs },
    { kind: 'presetIds', title: 'Presets, with their boards', items: presets },
    { kind: 'deviceIds', title: 'Charts', items: charts },
  ] as const;
  return (
    <div className="work-pad share-place">
      <div className="place-head">
        <h1>Share a part</h1>
        <span className="muted">of {rig.name}</span>
        <span className="gap" />
        <Button variant="go" disabled={count === 0 || busy !== null} onClick={() => void save()}>
          <FileDown size={16} strokeWidth={1.75} aria-hidden="true" />
          {count === 0 ? 'Save as a file' : `Save ${counted(count, 'thing')} as a file`}
        </Button>
        <Link className="btn btn-quiet" to="/rigs">
          Back to Rigs
        </Link>
      </div>
      <p className="muted place-line">
        Boards, and the rows of charts that are needed, go with what is chosen. A whole rig is saved under
        Rigs.
      </p>
      {busy && (
        <p className="notice" role="status">
          {busy}
        </p>
      )}
      <Trouble>{trouble}</Trouble>
      <div className="share-lists">
        {lists.map(({ kind, title, items }) => (
          <Choices
            key={kind}
            title={title}
            items={items}
            chosen={chosen[kind]}
            onToggle={(id, isOn) => toggle(kind, id, isOn)}
          />
        ))}
      </div>
    </div>
  );
}

const SHOWN = 100;

function Choices({
  title,
  items,
  chosen,
  onToggle,
}: {
  title: string;
  items: readonly { readonly id: string; readonly name: string }[];
  chosen: readonly string[];
  onToggle(id: string, isOn: boolean): void;
}) {
  const [wanted, setWanted] = useState('');
  const found = items.filter((i) => i.name.toLowerCase().includes(wanted.trim().toLowerCase()));
  return (
    <fieldset>
      <legend>{title}</legend>
      {items.length > 20 && (
        <SearchField label={`Find in ${title}`} placeholder="Find" value={wanted} onChange={setWanted} />
      )}
      {items.length === 0 && <p className="muted">none yet</p>}
      {found.slice(0, SHOWN).map((item) => (
        <Form.Check
          key={item.id}
          id={`share-${item.id}`}
          label={item.name}
          checked={chosen.includes(item.id)}
          onChange={(e) => onToggle(item.id, e.target.checked)}
        />
      ))}
      {found.length > SHOWN && <p className="muted">and {found.length - SHOWN} more: look for a name</p>}
    </fieldset>
  );
}
