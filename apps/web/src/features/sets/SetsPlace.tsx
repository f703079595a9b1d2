import type { FullRig } from '@idle-step/core/routing';
import { type Setlist, PLAIN_SET } from '@idle-step/core/show';
import type { SetSummary } from '@idle-step/contract';
import { isSameJson } from '@idle-step/core/edits';
import { cutText } from '@idle-step/core/typed';
import { readSetCsv, type FileFault } from '@idle-step/core/formats';
import { FileUp, Plus } from 'lucide-react';
import { memo, useState } from 'react';
import { Button } from 'react-bootstrap';
import { NavLink, useNavigate, useParams } from 'react-router-dom';
import { useCreateDoc } from '../../drafts/useDocChanges';
import { docsOf, loadDocs } from '../../drafts/loadDocs';
import { useEdit, useOpened, useRig, useSetList, useSongList } from '../../drafts/useDocs';
import { useChosenSet } from '../../live/use/useShow';
import { setFromCsv, songsToKnow } from '../../edits/csvLists';
import { faultsText } from '../../files/faultsText';
import { readTextFile, TEXT_FILE_LIMIT } from '../../files/readTextFile';
import { useFileChooser } from '../../files/useFileChooser';
import { useAppDispatch } from '../../store';
import { IconButton } from '../../ui/IconButton';
import { freeName } from '../../words/names';
import { BinLink } from '../../documents/BinLink';
import { EveningsRoom } from './EveningsRoom';
import { RunningOrder } from './RunningOrder';
import { SetLook } from './SetLook';
import { there } from '@idle-step/core/sure';

const isFaults = (made: Setlist | readonly FileFault[]): made is readonly FileFault[] => Array.isArray(made);

/** A running order that was read: as a new set, and the set that may become it. */
type SetRead = {
  readonly fresh: Setlist;
  readonly into: Setlist | null;
  made(into: Setlist): Setlist | readonly FileFault[];
};

/** Sets are made, read from a file as CSV and put into others. */
function useSetJobs(rig: FullRig | null, set: Setlist | null | undefined) {
  const sets = useSetList(rig?.id).items;
  const songs = useSongList(rig?.id).items;
  const create = useCreateDoc();
  const navigate = useNavigate();
  const edit = useEdit('sets');
  const dispatch = useAppDispatch();
  const [sentence, setSentence] = useState<string | null>(null);
  const [read, setRead] = useState<SetRead | null>(null);
  const nameFor = (wanted: string) =>
    freeName(
      sets.map((s) => s.name),
      wanted,
    );
  const open = async (file: File) => {
    if (!rig) return;
    const text = await readTextFile(file, TEXT_FILE_LIMIT, 'running orders');
    const csv = text.error === undefined ? readSetCsv(text.text) : null;
    if (!csv?.ok) {
      setSentence(text.error ?? faultsText(file.name, there(csv).error));
      return;
    }
    const known = await dispatch(docsOf('songs', songsToKnow(csv.value, songs)));
    const { head } = csv.value;
    const alike = sets.find((s) => s.name.toLowerCase() === head?.name.toLowerCase()) ?? set ?? null;
    const target = alike === null ? [] : await dispatch(docsOf('sets', [alike.id]));
    if (!known || !target) {
      setSentence(`${file.name} was not read: the server does not answer.`);
      return;
    }
    const named = (wanted: string | null) =>
      nameFor(wanted ?? (cutText(file.name.replace(/\.\w+$/, ''), 70).trim() || 'New set'));
    const made = (into: Setlist | null) => setFromCsv(csv.value, rig, songs, known, into, named);
    const fresh = made(null);
    if (isFaults(fresh)) setSentence(faultsText(file.name, fresh));
    else {
      setSentence(null);
      setRead({ fresh, into: target[0] ?? null, made });
    }
  };
  /** The set becomes what the file says, as one step that undo takes back. */
  const putInto = async ({ into, made }: SetRead) => {
    if (!rig || !into || !(await dispatch(loadDocs('sets', rig.id, [into.id])))) {
      setSentence('The server does not answer, so nothing was changed.');
      return;
    }
    // As it is by now: it may have been edited since the file was read.
    edit(into.id, 'read a running order', (now) => {
      const next = made(now);
      return isFaults(next) ? now : next;
    });
    setRead(null);
    void navigate(`/sets/${into.id}`);
  };
  const take = async (made: Setlist) => {
    const refused = await create('sets', made);
    setSentence(refused?.sentence ?? null);
    if (refused) return;
    setRead(null);
    void navigate(`/sets/${made.id}`);
  };
  const add = async () => {
    if (rig) await take({ ...PLAIN_SET, id: crypto.randomUUID(), rigId: rig.id, name: nameFor('New set') });
  };
  return { sets, songs, sentence, read, nameFor, open, putInto, take, add, leave: () => setRead(null) };
}

/** Whether a set is already what the file says. */
const isSameMade = ({ into, made }: SetRead): boolean => {
  const then = into && made(into);
  return then !== null && !isFaults(then) && isSameJson(then, into);
};

export function SetsPlace({ room }: { room?: 'evenings' }) {
  const { rig } = useRig();
  const chosen = useChosenSet(useSetList(rig?.id).items);
  const { setId, eveningId } = useParams();
  const set = useOpened('sets', rig?.id, setId ?? chosen?.id);
  const { sets, songs, sentence, read, nameFor, open, putInto, take, add, leave } = useSetJobs(rig, set);
  const chooser = useFileChooser(
    'Running order as CSV',
    '.csv,.tsv,.txt,text/csv',
    (file) => void open(file),
  );
  if (!rig) return null;
  return (
    <div className="songs-place">
      <aside className="song-list" aria-label="Sets">
        <div className="song-list-head">
          <h2>Sets</h2>
          <BinLink />
          <IconButton icon={FileUp} label="Open a CSV file as a set" onClick={chooser.choose} />
          {chooser.input}
          <IconButton icon={Plus} label="Add a set" onClick={() => void add()} />
        </div>
        {sentence && (
          <p className="field-error px-2" role="alert">
            {sentence}
          </p>
        )}
        <ol>
          {sets.map((s) => (
            <SetRow key={s.id} set={s} isShown={s.id === set?.id} isChosen={s.id === chosen?.id} />
          ))}
        </ol>
      </aside>
      {read ? (
        <SetLook
          set={read.fresh}
          into={
            read.into && {
              name: read.into.name,
              isSame: isSameMade(read),
            }
          }
          songs={songs}
          onMake={() => void take(read.fresh)}
          onInto={() => void putInto(read)}
          onLeave={leave}
        />
      ) : set && room === 'evenings' ? (
        <EveningsRoom key={set.id} set={set} eveningId={eveningId} />
      ) : set ? (
        <RunningOrder
          key={set.id}
          rig={rig}
          set={set}
          list={songs}
          isChosen={set.id === chosen?.id}
          nameFor={nameFor}
        />
      ) : set === undefined && (setId ?? chosen) ? (
        <p className="work-pad muted">Loading …</p>
      ) : (
        <div className="work-pad">
          <div className="empty-place">
            <h2>{setId === undefined ? 'No set yet' : 'This set is gone'}</h2>
            <p>A set is the running order of an evening: songs and breaks, in order, with their times.</p>
            <Button variant="go" onClick={() => void add()}>
              Make a set
            </Button>
          </div>
        </div>
      )}
    </div>
  );
}

/** One of hundreds: drawn anew only when it changes. */
const SetRow = memo(function SetRow({
  set,
  isShown,
  isChosen,
}: {
  set: SetSummary;
  isShown: boolean;
  isChosen: boolean;
}) {
  return (
    <li>
      <NavLink to={`/sets/${set.id}`} className={isShown ? 'on two' : 'two'}>
        <span className="song-name">{set.name}</span>
        <span className="small muted">{isChosen ? 'in play' : set.date}</span>
      </NavLink>
    </li>
  );
});
