import { BIN_DAYS, type BinLine, type Resource } from '@idle-step/contract';
import { Trash2, Undo2 } from 'lucide-react';
import { useState } from 'react';
import { Button } from 'react-bootstrap';
import { useNavigate } from 'react-router-dom';
import { useRig } from '../../drafts/useDocs';
import { screenChanged } from '../../screen/screenSlice';
import { useAppDispatch } from '../../store';
import { IconButton } from '../../ui/IconButton';
import { SearchField } from '../../ui/SearchField';
import { dayOf, timeOfDay } from '../../words/times';
import { useBin, type Told } from './useBin';
import { counted } from '../../words/counted';

const KIND: Readonly<Record<Resource, string>> = {
  rigs: 'rig',
  presets: 'preset',
  songs: 'song',
  sets: 'set',
};

/** What was deleted: found by name, brought back with its earlier saves, or deleted for good. */
export function BinPlace() {
  const bin = useBin();
  const [asked, setAsked] = useState<BinLine | null>(null);
  const { page, name } = bin;
  return (
    <div className="work-pad bin-place">
      <div className="place-head">
        <h1>Bin</h1>
        <SearchField
          label="Find in the bin by name"
          placeholder="Find by name"
          value={name}
          onChange={bin.search}
        />
      </div>
      <p className="muted place-line">
        Rigs, songs, sets and presets that were deleted stay here for {BIN_DAYS} days, with their earlier
        saves.
      </p>
      {bin.busy && (
        <p className="notice" role="status">
          {bin.busy}
        </p>
      )}
      {bin.told && <ToldLine told={bin.told} />}
      {asked && (
        <div
          className="notice d-flex gap-3 align-items-center"
          role="alertdialog"
          aria-label="Delete for good"
        >
          <span>
            {asked.name} and its earlier saves will be gone; nothing brings them back.
            {asked.songCount > 0 && ` Its ${counted(asked.songCount, 'song')} and its sets go with it.`}
          </span>
          <span className="gap" />
          <Button
            variant="go"
            onClick={() => {
              setAsked(null);
              void bin.empty(asked);
            }}
          >
            Delete for good
          </Button>
          <Button variant="quiet" autoFocus onClick={() => setAsked(null)}>
            Keep it here
          </Button>
        </div>
      )}
      {bin.isError && (
        <p className="field-error" role="alert">
          The server does not answer, so the bin cannot be shown.
        </p>
      )}
      {!page && !bin.isError && <p className="muted">Fetching …</p>}
      {page?.total === 0 && (
        <div className="empty-place">
          <h2>{name.trim() === '' ? 'The bin is empty' : 'Nothing by that name'}</h2>
          <p>
            {name.trim() === ''
              ? 'What you delete comes here first, so a slip is never the end of a song.'
              : `Nothing that was deleted has “${name.trim()}” in its name.`}
          </p>
        </div>
      )}
      {page && page.items.length > 0 && (
        <table className="bin-table" aria-busy={bin.isFetching}>
          <thead>
            <tr>
              <th scope="col">Name</th>
              <th scope="col">What</th>
              <th scope="col">Rig</th>
              <th scope="col">Deleted</th>
              <th scope="col">Stays until</th>
              <th scope="col">
                <span className="visually-hidden">What can be done</span>
              </th>
            </tr>
          </thead>
          <tbody>
            {page.items.map((line) => (
              <BinRow
                key={`${line.resource} ${line.id}`}
                line={line}
                isBusy={bin.busy !== null}
                onBringBack={() => void bin.bringBack(line)}
                onEmpty={() => setAsked(line)}
              />
            ))}
          </tbody>
        </table>
      )}
      {page && page.items.length < page.total && (
        <Button variant="quiet" onClick={bin.more}>
          Show more of {page.total}
        </Button>
      )}
    </div>
  );
}

type RowProps = { line: BinLine; isBusy: boolean; onBringBack(): void; onEmpty(): void };

function BinRow({ line, isBusy, onBringBack, onEmpty }: RowProps) {
  const { name, resource, rigName, isRigBinned, songCount, deletedAt, goesAt } = line;
  // What it belongs to comes back first.
  const why = isRigBinned ? `Bring back the rig ${rigName} first` : undefined;
  return (
    <tr>
      <th scope="row">{name}</th>
      <td>
        {KIND[resource]}
        {songCount > 0 && <span className="muted"> with {counted(songCount, 'song')}</span>}
      </td>
      <td>
        {resource === 'rigs' ? '' : rigName}
        {isRigBinned && <span className="muted"> (in the bin)</span>}
      </td>
      <td className="num">
        {dayOf(deletedAt)} {timeOfDay(deletedAt)}
      </td>
      <td className="num">{dayOf(goesAt)}</td>
      <td className="bin-tools">
        <Button variant="quiet" disabled={isBusy || isRigBinned} title={why} onClick={onBringBack}>
          <Undo2 size={16} strokeWidth={1.75} aria-hidden="true" />
          Bring back<span className="visually-hidden"> {name}</span>
        </Button>
        <IconButton icon={Trash2} label={`Delete ${name} for good`} disabled={isBusy} onClick={onEmpty} />
      </td>
    </tr>
  );
}

/** What came of it, and the way to what is back. */
function ToldLine({ told }: { told: Told }) {
  const { rig, rigs } = useRig();
  const dispatch = useAppDispatch();
  const navigate = useNavigate();
  if (told.kind === 'refused')
    return (
      <p className="field-error" role="alert">
        {told.sentence}
      </p>
    );
  if (told.kind === 'gone')
    return (
      <p className="notice" role="status">
        {told.name} is deleted for good.
      </p>
    );
  const { line, leftOut } = told;
  const owner = rigs.find((r) => r.id === line.rigId);
  // Another rig is taken in hand among the rigs, where playing is asked about.
  const isHere = owner !== undefined && owner.id === rig?.id;
  const open = () => {
    if (line.resource === 'sets') dispatch(screenChanged({ setId: line.id }));
    void navigate(isHere ? PATH[line.resource](line.id) : '/rigs');
  };
  return (
    <div className="notice d-flex gap-3 align-items-center" role="status">
      <span>
        {line.name} is back{isHere || line.resource === 'rigs' ? '' : `, in the rig ${line.rigName}`}.
        {leftOut.length > 0 && ` Left out: ${leftOut.join(' ')}`}
      </span>
      <span className="gap" />
      <Button variant="quiet" onClick={open}>
        {isHere && line.resource !== 'rigs' ? `Open ${line.name}` : 'See the rigs'}
      </Button>
    </div>
  );
}

const PATH: Readonly<Record<Resource, (id: string) => string>> = {
  rigs: () => '/rigs',
  presets: () => '/floor',
  songs: (id) => `/songs/${id}`,
  sets: (id) => `/sets/${id}`,
};
