import { type FullRig, portName } from '@idle-step/core/routing';
import {
  type Setlist,
  type SetEntry,
  type Song,
  entriesInOrder,
  entriesTonight,
  setTimes,
  type EntryTime,
} from '@idle-step/core/show';
import { Name, type SongSummary } from '@idle-step/contract';
import { writeSetCsv } from '@idle-step/core/formats';
import { songCalls, type SongCall } from '@idle-step/core/engine';
import {
  Coffee,
  Copy,
  FileDown,
  History,
  MessageCircle,
  MoonStar,
  MoreHorizontal,
  Printer,
  Spotlight,
  Trash2,
  X,
} from 'lucide-react';
import { memo, useCallback, useMemo, useState } from 'react';
import { Button } from 'react-bootstrap';
import { Link, useNavigate } from 'react-router-dom';
import { useSteps } from '../../drafts/useSteps';
import { useCreateDoc } from '../../drafts/useDocChanges';
import { useEdit, useSongsOf } from '../../drafts/useDocs';
import { saveTextFile } from '../../files/saveTextFile';
import { useLiveHost, useLiveOf, useWorld } from '../../live/use/useLive';
import { useAppDispatch } from '../../store';
import { Cloth } from '../../ui/Cloth';
import { TextField, TypedField } from '../../ui/Fields';
import { IconButton } from '../../ui/IconButton';
import { moved } from '../../edits/moved';
import { SortableList } from '../../ui/SortableList';
import { Trouble } from '../../ui/Trouble';
import { pauseEntry, songEntry } from '../../edits/songEdits';
import { PlaceHint } from '../../documents/PlaceHint';
import { DocumentHead } from '../../documents/DocumentHead';
import { screenChanged } from '../../screen/screenSlice';
import { minutes, parseMinutes, timeInSet, timeOfDay } from '../../words/times';
import { LastCheckLink } from '../../check/LastCheckLink';
import { AddSong } from './AddSong';
import { EntryMore } from './EntryMore';
import { EveningFields } from './EveningFields';
import { SetTimes } from './SetTimes';
import { nth } from '@idle-step/core/sure';

/** Scenes named in a line of the running order; the rest is counted. */
const SCENES_SHOWN = 4;

/** One set: its evening, and its songs, breaks and talk in order with their times. */
export function RunningOrder({
  set,
  rig,
  list,
  isChosen,
  nameFor,
}: {
  rig: FullRig;
  set: Setlist;
  /** Every song that can be added. */
  list: readonly SongSummary[];
  isChosen: boolean;
  /** A name that no other set has. */
  nameFor(wanted: string): string;
}) {
  const edit = useEdit('sets');
  const editRig = useEdit('rigs');
  const { songs, isLoaded } = useSongsOf(set);
  const byId = useMemo(() => new Map(songs.map((s) => [s.id, s])), [songs]);
  const times = useMemo(() => setTimes(set, (id) => byId.get(id)), [set, byId]);
  const left = set.entries.length - entriesTonight(set).length;
  const taken = useMemo(
    () => new Set(set.entries.flatMap((e) => (e.kind === 'song' ? e.songId : []))),
    [set.entries],
  );
  // The same function as long as it is the same set, so that lines which did not change are not drawn again.
  const change = useCallback(
    (label: string, entries: (old: readonly SetEntry[]) => readonly SetEntry[]) =>
      edit(set.id, label, (s) => ({ ...s, entries: entries(s.entries) })),
    [edit, set.id],
  );
  return (
    <div className="work-pad running-order">
      <SetHead set={set} rig={rig} times={times} isChosen={isChosen} nameFor={nameFor} />
      <EveningFields
        rig={rig}
        set={set}
        onChange={(label, part) => edit(set.id, label, (s) => ({ ...s, ...part }))}
        onStepGuard={(stepGuardMs) =>
          editRig(rig.id, 'change how far apart steps are', (r) => ({ ...r, stepGuardMs }))
        }
      />
      <div className="place-head order-tools">
        <AddSong
          songs={list}
          taken={taken}
          onAdd={(ids) =>
            change(ids.length === 1 ? 'add a song' : `add ${ids.length} songs`, (e) => [
              ...e,
              ...ids.map((id) => songEntry(id)),
            ])
          }
        />
        <Button variant="quiet" onClick={() => change('add a break', (e) => [...e, pauseEntry('break')])}>
          <Coffee size={16} strokeWidth={1.75} aria-hidden="true" />
          Break
        </Button>
        <Button variant="quiet" onClick={() => change('add talk', (e) => [...e, pauseEntry('talk')])}>
          <MessageCircle size={16} strokeWidth={1.75} aria-hidden="true" />
          Talk
        </Button>
        <LastCheckLink rigId={set.rigId} setId={set.id} />
        <span className="order-sum">
          {left > 0 && <span className="muted">{left} not tonight</span>}
          {isLoaded ? (
            <SetTimes set={set} times={times} />
          ) : (
            <span className="muted">Fetching the songs …</span>
          )}
        </span>
      </div>
      {set.entries.length === 0 ? (
        <div className="empty-place">
          <h2>An empty evening</h2>
          <p>
            Add songs in the order in which you play them; drag a line by its handle, or move it with Alt and
            an arrow.
          </p>
        </div>
      ) : (
        <OrderLines set={set} times={times} songs={byId} isLoaded={isLoaded} change={change} />
      )}
    </div>
  );
}

/** The name of the set, and what can be done with it as a whole. */
function SetHead({
  set,
  rig,
  times,
  isChosen,
  nameFor,
}: {
  set: Setlist;
  rig: FullRig;
  times: ReturnType<typeof setTimes>;
  isChosen: boolean;
  nameFor(wanted: string): string;
}) {
  const edit = useEdit('sets');
  const dispatch = useAppDispatch();
  const navigate = useNavigate();
  const create = useCreateDoc();
  const { deleteDoc } = useSteps();
  const [sentence, setSentence] = useState<string | null>(null);
  const duplicate = async () => {
    const made: Setlist = {
      ...set,
      id: crypto.randomUUID(),
      name: nameFor(set.name),
      date: '',
      entries: set.entries.map((e) => ({ ...e, id: crypto.randomUUID() })),
    };
    const refused = await create('sets', made);
    setSentence(refused?.sentence ?? null);
    if (!refused) void navigate(`/sets/${made.id}`);
  };
  const saveCsv = () => {
    const text = writeSetCsv(
      set,
      times.entries,
      (id) => portName(rig, id),
      (afterS) => timeInSet(set, afterS),
    );
    saveTextFile(`${set.name}.csv`, 'text/csv', text);
  };
  const songCount = entriesTonight(set).filter((e) => e.kind === 'song').length;
  return (
    <>
      <DocumentHead
        title={set.name}
        named={{
          label: 'Name of the set',
          onRename: (name) => edit(set.id, 'rename a set', (s) => ({ ...s, name })),
        }}
        doc={{ resource: 'sets', id: set.id }}
        facts={
          <span className="muted">
            {songCount} {songCount === 1 ? 'song' : 'songs'}
          </span>
        }
      >
        <span className="gap" />
        <IconButton icon={Copy} label="Duplicate for another evening" onClick={() => void duplicate()} />
        <IconButton icon={FileDown} label="Save as CSV" onClick={saveCsv} />
        <IconButton
          icon={History}
          label="As it was played"
          onClick={() => void navigate(`/sets/${set.id}/evenings`)}
        />
        <IconButton
          icon={Printer}
          label="Print view"
          onClick={() => void navigate(`/sets/${set.id}/print`)}
        />
        <Button
          variant="bare"
          className="btn-icon"
          aria-label={`Delete ${set.name}`}
          title="Delete this set; it can be brought back"
          onClick={() => void deleteDoc('sets', set.id, set.name, () => void navigate('/sets'))}
        >
          <Trash2 size={16} strokeWidth={1.75} aria-hidden="true" />
        </Button>
        {isChosen ? (
          <Button variant="go" onClick={() => void navigate('/stage')}>
            <Spotlight size={16} strokeWidth={1.75} aria-hidden="true" />
            Stage
          </Button>
        ) : (
          <Button variant="go" onClick={() => dispatch(screenChanged({ setId: set.id }))}>
            Put in play
          </Button>
        )}
      </DocumentHead>
      <PlaceHint place="sets" />
      <Trouble>{sentence}</Trouble>
    </>
  );
}

/** Songs, breaks and talk in their order; each can be moved, changed and taken out. */
function OrderLines({
  set,
  times,
  songs,
  isLoaded,
  change,
}: {
  set: Setlist;
  times: ReturnType<typeof setTimes>;
  songs: ReadonlyMap<string, Song>;
  isLoaded: boolean;
  change(label: string, entries: (old: readonly SetEntry[]) => readonly SetEntry[]): void;
}) {
  const world = useWorld();
  const [open, setOpen] = useState<string | null>(null);
  const calls = useMemo(
    () =>
      set.calls
        ? songCalls(world, set.calls, entriesTonight(set).filter((e) => e.kind === 'song').length)
        : null,
    [world, set],
  );
  const replace = useCallback(
    (next: SetEntry) => change('change a line', (e) => e.map((x) => (x.id === next.id ? next : x))),
    [change],
  );
  const toggle = useCallback((id: string) => setOpen((now) => (now === id ? null : id)), []);
  const takeOut = useCallback(
    (id: string) => change('take a line out', (e) => e.filter((x) => x.id !== id)),
    [change],
  );
  const setTonight = useCallback(
    (id: string, notTonight: boolean) =>
      change(notTonight ? 'leave a line out tonight' : 'play a line tonight', (e) =>
        e.map((x) => (x.id === id ? { ...x, notTonight } : x)),
      ),
    [change],
  );
  const beganMs = useSetBegan(set.id);
  const at = (afterS: number) =>
    beganMs === null ? timeInSet(set, afterS) : timeOfDay(beganMs + afterS * 1000);
  const songOf = (entry: SetEntry) => (entry.kind === 'song' ? songs.get(entry.songId) : undefined);
  return (
    <>
      <div className="order-head small muted" aria-hidden="true">
        <span />
        <span />
        <span>Song</span>
        <span title={beganMs === null ? '' : 'From when the set was really begun'}>
          {beganMs !== null ? 'At, begun' : set.startMin === null ? 'Begins at' : 'At'}
        </span>
        <span>Length</span>
        <span>Tempo</span>
        <span>Key</span>
        <span>Scenes</span>
        <span />
      </div>
      <SortableList
        items={entriesInOrder(set)}
        label="Running order"
        className="order"
        nameOf={(e) => (e.kind === 'song' ? (songOf(e)?.name ?? 'gone') : e.name)}
        onMove={(from, to) =>
          change('move a line', (e) => {
            const list = moved(entriesInOrder({ entries: e }), from, to);
            // Dragged among the encores it is one, and among the others it is none.
            const isEncore = e.length > 1 && (to > from ? nth(list, to - 1) : nth(list, to + 1)).isEncore;
            return list.map((x, i) => (i === to ? { ...x, isEncore } : x));
          })
        }
        classOf={(e) =>
          `${e.kind === 'song' ? 'song' : 'break'} ${e.isEncore ? 'encore' : ''} ${e.notTonight ? 'not-tonight' : ''}`
        }
        render={(entry, i, handle) => {
          const time = nth(times.entries, i);
          return (
            <>
              {handle}
              <EntryCells
                begins={entry.notTonight || !isLoaded ? '' : at(time.startS)}
                entry={entry}
                {...shownTime(time)}
                song={songOf(entry)}
                isLoaded={isLoaded}
                {...shownCall(calls?.[(time.number ?? 0) - 1])}
                onChange={replace}
              />
              <LineTools
                id={entry.id}
                isOpen={open === entry.id}
                notTonight={entry.notTonight}
                onToggle={toggle}
                onTonight={setTonight}
                onTakeOut={takeOut}
              />
              {open === entry.id && <EntryMore entry={entry} song={songOf(entry)} onChange={replace} />}
            </>
          );
        }}
      />
    </>
  );
}

/** When the set that runs was begun, in ms since 1970; `null` where another one runs, or none. */
function useSetBegan(setId: string): number | null {
  const host = useLiveHost();
  const startedAtMs = useLiveOf(({ world, state }) =>
    world.show.setId === setId ? (state.run?.startedAtMs ?? null) : null,
  );
  return useMemo(
    () => (startedAtMs === null ? null : Date.now() - (host.clock() - startedAtMs)),
    [host, startedAtMs],
  );
}

const LineTools = memo(function LineTools({
  id,
  isOpen,
  notTonight,
  onToggle,
  onTonight,
  onTakeOut,
}: {
  id: string;
  isOpen: boolean;
  notTonight: boolean;
  onToggle(id: string): void;
  onTonight(id: string, notTonight: boolean): void;
  onTakeOut(id: string): void;
}) {
  return (
    <span className="line-tools">
      <IconButton
        icon={MoonStar}
        label="Not tonight"
        pressed={notTonight}
        onClick={() => onTonight(id, !notTonight)}
      />
      <IconButton
        icon={MoreHorizontal}
        label="This evening: length, scenes, encore, remark"
        pressed={isOpen}
        onClick={() => onToggle(id)}
      />
      <IconButton icon={X} label="Take this line out" onClick={() => onTakeOut(id)} />
    </span>
  );
});

/** What a line shows of its time: plain values, which stay the same where nothing changed. */
const shownTime = (time: EntryTime) => ({
  number: time.number,
  lengthS: time.lengthS,
  isAgain: time.sameAs !== null,
  tempoJump: time.tempoJump,
  keyJump: time.keyJump,
});

/** The program that calls a song, `null` for a song that none can call, `undefined` where none calls. */
const shownCall = (call: SongCall | undefined) => ({
  program: call && call.program,
  callFaults: call ? call.faults.join(' ') : '',
});

type EntryProps = ReturnType<typeof shownTime> &
  ReturnType<typeof shownCall> & {
    begins: string;
    entry: SetEntry;
    song: Song | undefined;
    isLoaded: boolean;
    onChange(entry: SetEntry): void;
  };

const EntryCells = memo(function EntryCells(props: EntryProps) {
  const { entry, song, isLoaded, program, callFaults, onChange } = props;
  const begins = <span className="num">{props.begins}</span>;
  if (entry.kind !== 'song')
    return (
      <>
        <span className="muted small">
          {entry.notTonight ? 'not tonight' : entry.isEncore ? 'encore' : ''}
        </span>
        <TextField
          hideLabel
          label={entry.kind === 'break' ? 'Name of the break' : 'Name of the talk'}
          value={entry.name}
          schema={Name}
          onCommit={(name) => onChange({ ...entry, name })}
        />
        {begins}
        <TypedField
          hideLabel
          numeric
          label={entry.kind === 'break' ? 'Length of the break' : 'Length of the talk'}
          className="narrow"
          shown={minutes(entry.lengthS)}
          parse={parseMinutes}
          onCommit={(lengthS) => onChange({ ...entry, lengthS })}
        />
        <span />
        <span />
        <span className="muted small">{entry.remark}</span>
      </>
    );
  if (!song && !isLoaded) return <span className="muted gone-song">…</span>;
  if (!song) return <span className="text-danger gone-song">a song that is gone; take the line out</span>;
  const scenes = song.scenes.filter((s) => !entry.leftOutSceneIds.includes(s.id));
  return (
    <>
      <span className="num muted">{props.number}</span>
      <span className="order-name">
        <Link to={`/songs/${song.id}`} className="order-song">
          {song.name}
        </Link>
        {entry.isEncore && <span className="muted small">encore</span>}
        {entry.notTonight && <span className="caution small">not tonight</span>}
        {props.isAgain && <span className="caution small">again</span>}
        {program !== undefined && (
          <span
            className={`small num ${callFaults ? 'caution' : 'muted'}`}
            title={callFaults || `Program ${program} calls this song`}
          >
            {program === null ? 'no program' : `program ${program}`}
            {callFaults && ' !'}
            <span className="visually-hidden"> {callFaults}</span>
          </span>
        )}
      </span>
      {begins}
      <span
        className={`num ${entry.lengthS === null ? '' : 'own'}`}
        title={`${minutes(song.lengthS)} in the song`}
      >
        {minutes(props.lengthS)}
      </span>
      <span className="num">
        {song.tempoBpm}
        {props.tempoJump !== null && (
          <span className="caution" title="The tempo jumps against the song before">
            {' '}
            {props.tempoJump > 0 ? '+' : '−'}
            {Math.abs(props.tempoJump)}
          </span>
        )}
      </span>
      <span
        className={props.keyJump === null ? '' : 'caution'}
        title={props.keyJump === null ? '' : `${props.keyJump} fifths from the key before`}
      >
        {song.key}
        {props.keyJump !== null && (
          <>
            {' '}
            <span aria-hidden="true">!</span>
            <span className="visually-hidden">, {props.keyJump} fifths from the key before</span>
          </>
        )}
      </span>
      <span className="order-scenes" title={scenes.map((s) => s.name).join(', ')}>
        {scenes.slice(0, SCENES_SHOWN).map((s) => (
          <Cloth key={s.id} text={s.name} colour={s.colour} />
        ))}
        {scenes.length > SCENES_SHOWN && <span className="muted small">+{scenes.length - SCENES_SHOWN}</span>}
        {scenes.length < song.scenes.length && (
          <span className="muted small">{song.scenes.length - scenes.length} left out</span>
        )}
        {entry.remark && <span className="muted small">{entry.remark}</span>}
      </span>
    </>
  );
});
