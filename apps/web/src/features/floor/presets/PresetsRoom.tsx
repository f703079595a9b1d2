import type { FullRig } from '@idle-step/core/routing';
import { type Board, type Preset, duplicated, readyPresets } from '@idle-step/core/floor';
import { useFileChooser } from '../../../files/useFileChooser';
import {
  Folder,
  Name,
  partOf,
  readPresetFile,
  readRigFile,
  RIG_FILE_FORMAT,
  writeRigFile,
} from '@idle-step/contract';
import { Copy, Download, FileUp, Plus, Printer, Trash2 } from 'lucide-react';
import { useMemo, useState } from 'react';
import { Button } from 'react-bootstrap';
import { Link, useNavigate } from 'react-router-dom';
import { useCreateDoc } from '../../../drafts/useDocChanges';
import { useSteps } from '../../../drafts/useSteps';
import { useEdit } from '../../../drafts/useDocs';
import { readTextFile } from '../../../files/readTextFile';
import { saveTextFile } from '../../../files/saveTextFile';
import { BinLink } from '../../../documents/BinLink';
import { TextField } from '../../../ui/Fields';
import { IconButton } from '../../../ui/IconButton';
import { BoardStates } from '../memory/BoardStates';
import { ComparePresets } from './ComparePresets';
import { EMPTY_PRESET, newBank } from '../../../edits/presetEdits';
import { freeName } from '../../../words/names';

const newId = () => crypto.randomUUID();

/** The presets of a board in their folders: which one is in force, new ones, copies, files, and what differs. */
export function PresetsRoom({
  rig,
  board,
  presets,
}: {
  rig: FullRig;
  board: Board;
  presets: readonly Preset[];
}) {
  const create = useCreateDoc();
  const navigate = useNavigate();
  const [sentence, setSentence] = useState<string | null>(null);
  const [isBad, setBad] = useState(false);
  const [compared, setCompared] = useState<string | null>(null);
  const own = presets.filter((p) => p.boardId === board.id);
  const folders = [...new Set(own.map((p) => p.folder))].sort((a, b) => a.localeCompare(b));
  const say = (text: string, bad = false) => {
    setSentence(text);
    setBad(bad);
  };
  const nameFor = (wanted: string) =>
    freeName(
      own.map((p) => p.name),
      wanted,
    );
  const add = async (preset: Preset, what: string) => {
    const refused = await create('presets', preset);
    say(refused ? refused.sentence : what, refused !== null);
    return refused === null;
  };
  const start = () => {
    const name = nameFor('New preset');
    void add(
      { ...EMPTY_PRESET, id: newId(), rigId: rig.id, boardId: board.id, name, banks: [newBank(1)] },
      `${name} begun, with one bank.`,
    );
  };
  const copy = (preset: Preset, wanted: string) => {
    const name = nameFor(wanted);
    void add(duplicated(preset, name, newId), `${name} made.`);
  };
  const load = async (chosen: File) => {
    const text = await readTextFile(chosen);
    if (text.error !== undefined) {
      say(text.error, true);
      return;
    }
    // What was shared with the gear that it needs is looked at first.
    if (readRigFile(text.text).error === undefined) {
      void navigate('/rigs/take-in', { state: { name: chosen.name, text: text.text } });
      return;
    }
    const read = readPresetFile(text.text, rig, board.id, newId);
    if (read.error !== undefined) {
      say(`${chosen.name} was not read: ${read.error}`, true);
      return;
    }
    const name = nameFor(read.preset.name);
    const left =
      read.missing.length === 0 ? '' : ` Left out, since this rig has none: ${read.missing.join(', ')}.`;
    await add({ ...read.preset, name }, `${name} read from ${chosen.name}.${left}`);
  };
  const file = useFileChooser('Preset file', 'application/json,.json', (chosen) => void load(chosen));
  const active = own.find((p) => p.id === board.presetId);
  const other = own.find((p) => p.id === compared);
  return (
    <section className="presets-room" aria-label="Presets of this board">
      <div className="place-head">
        <Button variant="quiet" onClick={start}>
          <Plus size={16} strokeWidth={1.75} aria-hidden="true" />
          New preset
        </Button>
        <Button variant="quiet" onClick={file.choose}>
          <FileUp size={16} strokeWidth={1.75} aria-hidden="true" />
          Load a file
        </Button>
        {file.input}
        <Link className="btn btn-quiet" to="/paper/labels">
          <Printer size={16} strokeWidth={1.75} aria-hidden="true" />
          Label strips
        </Link>
        <BinLink withWord />
        {sentence && (
          <span className={isBad ? 'field-error' : 'muted small'} role={isBad ? 'alert' : 'status'}>
            {sentence}
          </span>
        )}
      </div>
      {folders.map((folder) => (
        <div key={folder} className="preset-folder">
          <h2>{folder || 'Not in a folder'}</h2>
          <ul>
            {own
              .filter((p) => p.folder === folder)
              .map((p) => (
                <PresetLine
                  key={p.id}
                  rig={rig}
                  board={board}
                  preset={p}
                  presets={own}
                  isCompared={compared === p.id}
                  onCompare={active && (() => setCompared(compared === p.id ? null : p.id))}
                  onCopy={() => copy(p, `${p.name} copy`)}
                />
              ))}
          </ul>
        </div>
      ))}
      {own.length === 0 && (
        <p className="muted">
          This board has no preset yet. A preset is everything it is told: banks of assignments. Take a
          ready-made one below, or begin a new one.
        </p>
      )}
      {active && other && <ComparePresets board={board} left={active} right={other} />}
      <ReadyPresets rig={rig} board={board} onCopy={copy} />
    </section>
  );
}

/** A preset with its board and the rows of charts that it needs, as the text of a file. */
const presetPart = (rig: FullRig, preset: Preset): string =>
  writeRigFile(
    partOf(
      { format: RIG_FILE_FORMAT, version: 1, rig, presets: [preset], songs: [], sets: [] },
      { presetIds: new Set([preset.id]), songIds: new Set(), setIds: new Set(), deviceIds: new Set() },
    ),
  );

/** One preset: its name and folder, and what can be done with it. */
function PresetLine({
  rig,
  board,
  preset: p,
  presets,
  isCompared,
  onCompare,
  onCopy,
}: {
  rig: FullRig;
  board: Board;
  preset: Preset;
  presets: readonly Preset[];
  isCompared: boolean;
  /** Shows what is different from the one in force; nothing where none is. */
  onCompare: (() => void) | undefined;
  onCopy(): void;
}) {
  const edit = useEdit('presets');
  const editRig = useEdit('rigs');
  const { deleteDoc } = useSteps();
  const putInForce = () =>
    editRig(rig.id, 'put a preset in force', (r) => ({
      ...r,
      boards: r.boards.map((b) => (b.id === board.id ? { ...b, presetId: p.id } : b)),
    }));
  return (
    <li className={p.id === board.presetId ? 'on' : ''}>
      <TextField
        hideLabel
        label={`Name of ${p.name}`}
        value={p.name}
        schema={Name}
        onCommit={(name) => edit(p.id, 'rename a preset', (d) => ({ ...d, name }))}
      />
      <TextField
        hideLabel
        label={`Folder of ${p.name}`}
        placeholder="folder"
        value={p.folder}
        schema={Folder}
        onCommit={(next) => edit(p.id, 'move a preset', (d) => ({ ...d, folder: next }))}
      />
      <span className="muted small">
        {p.banks.length} {p.banks.length === 1 ? 'bank' : 'banks'}
        {p.groups.length > 0 && `, ${p.groups.length} ${p.groups.length === 1 ? 'group' : 'groups'}`}
        {board.mode === 'standalone' && (
          <>
            , <BoardStates {...{ rig, board, presets }} preset={p} />
          </>
        )}
      </span>
      {p.id === board.presetId ? (
        <b className="in-force">in force</b>
      ) : (
        <span className="preset-choices">
          <Button variant="quiet" onClick={putInForce}>
            Put in force
          </Button>
          {onCompare && (
            <Button variant="bare" aria-expanded={isCompared} onClick={onCompare}>
              Compare
            </Button>
          )}
        </span>
      )}
      <span className="preset-tools">
        <IconButton icon={Copy} label={`Duplicate ${p.name}`} onClick={onCopy} />
        <IconButton
          icon={Download}
          label={`Save ${p.name} as a file`}
          onClick={() => saveTextFile(`${p.name}.part.json`, 'application/json', presetPart(rig, p))}
        />
        <IconButton
          icon={Trash2}
          label={`Delete ${p.name}`}
          onClick={() => void deleteDoc('presets', p.id, p.name, () => undefined)}
        />
      </span>
    </li>
  );
}

/** Presets that follow the rig as it is. */
function ReadyPresets({
  rig,
  board,
  onCopy,
}: {
  rig: FullRig;
  board: Board;
  onCopy(preset: Preset, name: string): void;
}) {
  const ready = useMemo(() => readyPresets(rig, board, newId), [rig, board]);
  return (
    <div className="preset-folder ready">
      <h2>Ready-made, for this rig</h2>
      <p className="small muted">They follow the rig as it is and cannot be changed; a copy of one can.</p>
      <ul>
        {ready.map((r) => (
          <li key={r.kind}>
            <b>{r.preset.name}</b>
            <span className="muted small">{r.text}</span>
            <span className="preset-tools">
              <Button variant="quiet" onClick={() => onCopy(r.preset, r.preset.name)}>
                <Copy size={16} strokeWidth={1.75} aria-hidden="true" />
                Make a copy
              </Button>
            </span>
          </li>
        ))}
      </ul>
    </div>
  );
}
