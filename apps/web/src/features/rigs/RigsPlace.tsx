import type { FullRig } from '@idle-step/core/routing';
import { BIN_DAYS, Name, type RigFile } from '@idle-step/contract';
import { Archive, Copy, FileDown, FileUp, PackageOpen, Plus, Share2, Trash2 } from 'lucide-react';
import { useState } from 'react';
import { Button } from 'react-bootstrap';
import { Link, useNavigate } from 'react-router-dom';
import type { Refused } from '../../drafts/useDocChanges';
import { useEdit, useRig } from '../../drafts/useDocs';
import { useWholeRigs } from '../../drafts/whole/useWholeRigs';
import { demoCopy, emptyRig } from '../../edits/newRig';
import { saveBlob } from '../../files/saveTextFile';
import { useFileChooser } from '../../files/useFileChooser';
import { useLiveHost } from '../../live/use/useLive';
import { screenChanged } from '../../screen/screenSlice';
import { useAppDispatch } from '../../store';
import { TextField } from '../../ui/Fields';
import { IconButton } from '../../ui/IconButton';
import { Trouble } from '../../ui/Trouble';
import { useUndoNotice } from '../../ui/hooks/useUndoNotice';
import { freeName } from '../../words/names';
import { BinLink } from '../../documents/BinLink';

/** A question before the rig in use is left while it is played, or deleted. */
type Asked = { readonly says: string; readonly yes: string; go(): void };

/** All rigs side by side: which one is in hand, new ones, copies, files, and what goes. */
export function RigsPlace() {
  const { rig, rigs, busy, error, asked, choose, duplicate, give, open, askToRemove, stay, copyDemo, begin } =
    useRigJobs();
  const chooser = useFileChooser('Rig file', '.json,application/json', (file) => void open(file));
  return (
    <div className="work-pad rigs-place">
      <div className="place-head">
        <h1>Rigs</h1>
        <span className="muted">
          {rigs.length} {rigs.length === 1 ? 'rig' : 'rigs'}
        </span>
        <span className="gap" />
        <Button variant="quiet" disabled={busy !== null} onClick={chooser.choose}>
          <FileUp size={16} strokeWidth={1.75} aria-hidden="true" />
          Open a rig file
        </Button>
        {chooser.input}
        <BinLink withWord />
        <Button variant="quiet" disabled={busy !== null} onClick={() => void copyDemo()}>
          <Copy size={16} strokeWidth={1.75} aria-hidden="true" />
          Start from the demo rig
        </Button>
        <Button variant="go" disabled={busy !== null} onClick={() => void begin()}>
          <Plus size={16} strokeWidth={1.75} aria-hidden="true" />
          New rig
        </Button>
      </div>
      <p className="muted place-line">
        Each rig has its own gear, boards, routes, songs and sets. Only the one in use is played.
      </p>
      <div className="place-head">
        <Link className="btn btn-quiet" to="/rigs/backups">
          <Archive size={16} strokeWidth={1.75} aria-hidden="true" />
          Backups
        </Link>
        <Link className="btn btn-quiet" to="/rigs/take-in">
          <PackageOpen size={16} strokeWidth={1.75} aria-hidden="true" />
          Take in a part
        </Link>
        <Link className="btn btn-quiet" to="/rigs/share">
          <Share2 size={16} strokeWidth={1.75} aria-hidden="true" />
          Share a part
        </Link>
      </div>
      {busy && (
        <p className="notice" role="status">
          {busy}
        </p>
      )}
      <Trouble>{error}</Trouble>
      {asked && (
        <div className="notice d-flex gap-3 align-items-center" role="alertdialog" aria-label={asked.yes}>
          <span>{asked.says}</span>
          <span className="gap" />
          <Button variant="go" onClick={asked.go}>
            {asked.yes}
          </Button>
          <Button variant="quiet" autoFocus onClick={stay}>
            Stay with {rig?.name}
          </Button>
        </div>
      )}
      <ul className="rig-rows">
        {rigs.map((r) => (
          <RigRow
            key={r.id}
            rig={r}
            isInUse={r.id === rig?.id}
            isBusy={busy !== null}
            onChoose={() => choose(r)}
            onDuplicate={() => void duplicate(r)}
            onGive={() => void give(r)}
            onRemove={() => askToRemove(r)}
          />
        ))}
      </ul>
    </div>
  );
}

/** What can be done with rigs, and what is asked or said meanwhile. */
function useRigJobs() {
  const { rig, rigs } = useRig();
  const dispatch = useAppDispatch();
  const navigate = useNavigate();
  const whole = useWholeRigs();
  const notice = useUndoNotice();
  const host = useLiveHost();
  const [asked, setAsked] = useState<Asked | null>(null);
  const [error, setError] = useState<string | null>(null);
  const [busy, setBusy] = useState<string | null>(null);

  const nameFor = (wanted: string) =>
    freeName(
      rigs.map((r) => r.name),
      wanted,
    );
  const take = (id: string) => {
    setAsked(null);
    dispatch(screenChanged({ rigId: id, setId: null }));
    void navigate('/rig');
  };
  /** Something is played on the rig in use, as it is now, however long it took. */
  const isPlayed = () => host.getSnapshot().state.position.sceneId !== null;
  const choose = (next: Pick<FullRig, 'id' | 'name'>) => {
    if (next.id === rig?.id || !isPlayed()) take(next.id);
    else
      setAsked({
        says: `${rig?.name} is being played. Changing to ${next.name} ends what sounds and starts its first set.`,
        yes: `Change to ${next.name}`,
        go: () => take(next.id),
      });
  };
  const work = async (words: string, job: () => Promise<string | null>) => {
    setBusy(words);
    setError(await job().finally(() => setBusy(null)));
  };
  const keep = async (file: RigFile): Promise<string | null> => {
    const refused = await whole.create(file);
    if (!refused) choose(file.rig);
    return refused?.sentence ?? null;
  };
  /** The text of a rig's file; or why it could not be had, as a sentence. */
  const textOf = async (r: FullRig): Promise<Blob | string> => {
    const got = await whole.text(r.id, (how) => setBusy(`Reading ${r.name}: ${how}`));
    return 'sentence' in got ? got.sentence : got.file;
  };
  const takenNames = rigs.map((r) => r.name);
  const duplicate = (r: FullRig) =>
    work(`Copying ${r.name} …`, async () => {
      const file = await textOf(r);
      if (typeof file === 'string') return file;
      const wish = { file, name: r.name, suffix: ' copy', taken: takenNames };
      const made = await whole.createFrom(wish, setBusy);
      return 'sentence' in made ? made.sentence : null;
    });
  const give = (r: FullRig) =>
    work(`Reading ${r.name} …`, async () => {
      const file = await textOf(r);
      if (typeof file === 'string') return file;
      saveBlob(`${r.name}.rig.json`, file);
      return null;
    });
  const open = (chosen: File) =>
    work(`Reading ${chosen.name} …`, async () => {
      const wish = { file: chosen, name: chosen.name, suffix: '', taken: takenNames };
      const made = await whole.createFrom(wish, setBusy);
      if ('sentence' in made) return made.sentence;
      choose(made);
      return null;
    });
  const remove = (r: FullRig) =>
    work(`Deleting ${r.name} …`, async () => {
      const done = await whole.remove(r.id, (how) => setBusy(`Deleting ${r.name}: ${how}`));
      if ('sentence' in done) return done.sentence;
      notice.tell(`${r.name} was deleted, with its songs and sets.`, async () => {
        const refused: Refused | null = await done.bringBack();
        return refused?.sentence ?? null;
      });
      return null;
    });
  const askToRemove = (r: FullRig) => {
    if (r.id !== rig?.id) void remove(r);
    else
      setAsked({
        says: `${r.name} is ${isPlayed() ? 'being played; what sounds ends' : 'in use'}. Deleted, it stays in the bin for ${BIN_DAYS} days, with its songs and sets.`,
        yes: `Delete ${r.name}`,
        go: () => {
          setAsked(null);
          void remove(r);
        },
      });
  };
  return {
    rig,
    rigs,
    busy,
    error,
    asked,
    choose,
    duplicate,
    give,
    open,
    askToRemove,
    stay: () => setAsked(null),
    copyDemo: () => work('Copying the demo rig …', async () => keep(await demoCopy(nameFor('Demo rig')))),
    begin: () => work('Making a rig …', () => keep(emptyRig(nameFor('My rig')))),
  };
}

type RowProps = {
  rig: FullRig;
  isInUse: boolean;
  isBusy: boolean;
  onChoose(): void;
  onDuplicate(): void;
  onGive(): void;
  onRemove(): void;
};

function RigRow({ rig, isInUse, isBusy, onChoose, onDuplicate, onGive, onRemove }: RowProps) {
  const edit = useEdit('rigs');
  const boards = rig.boards.length;
  return (
    <li className={isInUse ? 'in-use' : ''}>
      <TextField
        hideLabel
        label={`Name of ${rig.name}`}
        className="song-title"
        value={rig.name}
        schema={Name}
        onCommit={(name) => edit(rig.id, 'rename a rig', (r) => ({ ...r, name }))}
      />
      <span className="muted">
        {rig.devices.length} {rig.devices.length === 1 ? 'device' : 'devices'}, {boards}{' '}
        {boards === 1 ? 'board' : 'boards'}
      </span>
      <span className="gap" />
      {isInUse ? (
        <span className="in-use-word">in use</span>
      ) : (
        <Button variant="quiet" disabled={isBusy} onClick={onChoose}>
          Use this rig
        </Button>
      )}
      <IconButton icon={Copy} label={`Duplicate ${rig.name}`} onClick={onDuplicate} disabled={isBusy} />
      <IconButton icon={FileDown} label={`Save ${rig.name} as a file`} onClick={onGive} disabled={isBusy} />
      <IconButton icon={Trash2} label={`Delete ${rig.name}`} onClick={onRemove} disabled={isBusy} />
    </li>
  );
}
