import {
  proposeFunctions,
  proposeMatch,
  readRigFile,
  takenIn,
  type Match,
  type Part,
  type RigFile,
  type TakenIn,
} from '@idle-step/contract';
import { differenceOf, referencesIn } from '@idle-step/core/edits';
import type { Device } from '@idle-step/core/gear';
import type { FullRig } from '@idle-step/core/routing';
import { FileUp, TriangleAlert } from 'lucide-react';
import { useMemo, useState } from 'react';
import { Button } from 'react-bootstrap';
import { Link, useLocation, useNavigate } from 'react-router-dom';
import { z } from 'zod';
import { usePresets, useRig, useSetList, useSongList } from '../../drafts/useDocs';
import { useSteps } from '../../drafts/useSteps';
import { readTextFile, RECORDING_LIMIT } from '../../files/readTextFile';
import { useFileChooser } from '../../files/useFileChooser';
import { Pick } from '../../ui/Fields';
import { Trouble } from '../../ui/Trouble';
import { counted } from '../../words/counted';
import { freeName } from '../../words/names';

/** What somebody else made, taken into the rig in use: looked at first, and which of my gear plays the part of theirs. */
export function TakeInPlace() {
  const { rig } = useRig();
  const handed = useHandedFile();
  const [file, setFile] = useState<{ name: string; file: RigFile } | null>(handed);
  const [trouble, setTrouble] = useState<string | null>(null);
  const open = async (chosen: File) => {
    setTrouble(null);
    const text = await readTextFile(chosen, RECORDING_LIMIT, 'rigs');
    const read = text.error === undefined ? readRigFile(text.text) : text;
    if (read.error !== undefined) setTrouble(`${chosen.name} was not read: ${read.error}`);
    else setFile({ name: chosen.name, file: read.file });
  };
  const chooser = useFileChooser('Shared file', '.json,application/json', (chosen) => void open(chosen));
  if (!rig) return <p className="work-pad muted">There is no rig yet to take anything into.</p>;
  return (
    <div className="work-pad take-in">
      <div className="place-head">
        <h1>Take in</h1>
        <span className="muted">into {rig.name}</span>
        <span className="gap" />
        <Button variant={file ? 'quiet' : 'go'} onClick={chooser.choose}>
          <FileUp size={16} strokeWidth={1.75} aria-hidden="true" />
          {file ? 'Another file' : 'Choose a file'}
        </Button>
        {chooser.input}
        <Link className="btn btn-quiet" to="/rigs">
          Back to Rigs
        </Link>
      </div>
      <Trouble>{trouble}</Trouble>
      {file ? (
        <Look key={file.name} rig={rig} file={file.file} />
      ) : (
        <p className="muted">
          A shared file holds songs, sets, presets or charts, with the gear that they need. It is looked at
          first: you say which of your gear plays the part of theirs, and see what is left out.
        </p>
      )}
    </div>
  );
}

/** A file that another place has read and handed on. */
function useHandedFile(): { name: string; file: RigFile } | null {
  const state: unknown = useLocation().state;
  return useMemo(() => {
    const handed = HandedSchema.safeParse(state).data;
    const read = handed && readRigFile(handed.text);
    return handed && read?.error === undefined && read ? { name: handed.name, file: read.file } : null;
  }, [state]);
}

const HandedSchema = z.object({ name: z.string(), text: z.string() });

const newId = () => crypto.randomUUID();

function Look({ rig, file }: { rig: FullRig; file: RigFile }) {
  const [match, setMatch] = useState(() => proposeMatch(file, rig));
  const { named, trouble, isBusy, go } = useTaking(rig, file, match);
  // What only passes on matters where something is sent by one of its ports.
  const gear = useMemo(() => {
    const faces = new Set(file.rig.boards.map((b) => b.deviceId));
    const docs = [...file.presets, ...file.songs, ...file.sets];
    const used = new Set(docs.flatMap((d) => referencesIn(d).map((r) => r.id)));
    return file.rig.devices.filter(
      (d) => !faces.has(d.id) && (d.role !== 'carrier' || d.ports.some((p) => used.has(p.id))),
    );
  }, [file]);
  const nothing = named.presets.length + named.songs.length + named.sets.length + named.added.length === 0;
  return (
    <>
      <section aria-label="What it holds">
        <h2>It holds</h2>
        <p>
          {[
            counted(file.songs.length, 'song'),
            counted(file.sets.length, 'set'),
            counted(file.presets.length, 'preset'),
            counted(file.rig.boards.length, 'board'),
            counted(gear.length, 'device'),
            counted(
              gear.reduce((sum, d) => sum + d.chart.length, 0),
              'row of charts',
              'rows of charts',
            ),
          ].join(', ')}
          .
        </p>
      </section>
      <section aria-label="Which gear plays its part">
        <h2>Which of your gear plays the part of theirs?</h2>
        <Parts rig={rig} file={file} gear={gear} match={match} onMatch={setMatch} />
      </section>
      <section aria-label="What changes">
        <h2>What changes here</h2>
        <p>
          {nothing
            ? 'Nothing: none of it has a part here.'
            : `${comesWords(named)} come${isOne(named) ? 's' : ''}.`}{' '}
          {named.added.length > 0 &&
            `Added to your rig, without cables to the computer: ${named.added.join(', ')}. `}
          Nothing of yours is changed.
        </p>
        <LeftOut leftOut={named.leftOut} />
      </section>
      <Trouble>{trouble}</Trouble>
      <Button variant="go" disabled={isBusy || nothing} onClick={() => void go()}>
        {isBusy ? 'Taking it in …' : 'Take it in'}
      </Button>
    </>
  );
}

/** What comes of a file with the gear as it is matched, under names that are free, and taking it in. */
function useTaking(rig: FullRig, file: RigFile, match: Match) {
  const presets = usePresets(rig.id);
  const sets = useSetList(rig.id).items;
  const songs = useSongList(rig.id).items;
  const taken = useMemo(() => takenIn(file, rig, match, newId, freeName), [file, rig, match]);
  const named = useMemo(
    (): TakenIn => ({
      ...taken,
      presets: renamed(taken.presets, presets),
      songs: renamed(taken.songs, songs),
      sets: renamed(taken.sets, sets),
    }),
    [taken, presets, songs, sets],
  );
  const { takeIn } = useSteps();
  const navigate = useNavigate();
  const [trouble, setTrouble] = useState<string | null>(null);
  const [isBusy, setBusy] = useState(false);
  const go = async () => {
    setBusy(true);
    const docs = [
      ...named.presets.map((doc) => ({ resource: 'presets', doc }) as const),
      ...named.songs.map((doc) => ({ resource: 'songs', doc }) as const),
      ...named.sets.map((doc) => ({ resource: 'sets', doc }) as const),
    ];
    const change = { kind: 'take-in', rigId: rig.id, rig: differenceOf(rig, named.rig), docs } as const;
    const refused = await takeIn(`${comesWords(named)} taken in`, change);
    setBusy(false);
    setTrouble(refused);
    if (refused === null)
      void navigate(named.sets.length > 0 ? '/sets' : named.songs.length > 0 ? '/songs' : '/floor');
  };
  return { named, trouble, isBusy, go };
}

/** Their boards and gear, and what of mine plays the part of each. */
function Parts({
  rig,
  file,
  gear,
  match,
  onMatch,
}: {
  rig: FullRig;
  file: RigFile;
  gear: readonly Device[];
  match: Match;
  onMatch(change: (match: Match) => Match): void;
}) {
  const nameOf = (of: RigFile['rig'] | FullRig, deviceId: string) =>
    of.devices.find((d) => d.id === deviceId)?.name ?? 'a board';
  const own = rig.boards.map((b) => ({ id: b.id, name: nameOf(rig, b.deviceId) }));
  return (
    <table className="sends-list take-in-gear">
      <thead>
        <tr>
          <th scope="col">Theirs</th>
          <th scope="col">Yours</th>
          <th scope="col">Functions</th>
        </tr>
      </thead>
      <tbody>
        {file.rig.boards.map((board) => {
          const name = nameOf(file.rig, board.deviceId);
          return (
            <tr key={board.id}>
              <td>{name}</td>
              <td>
                <PartPick
                  label={`Board that plays the part of ${name}`}
                  part={match.boards[board.id] ?? null}
                  own={own}
                  onPick={(part) => onMatch((m) => ({ ...m, boards: { ...m.boards, [board.id]: part } }))}
                />
              </td>
              <td className="muted">{counted(board.controls.length, 'control')}</td>
            </tr>
          );
        })}
        {gear.map((device) => (
          <tr key={device.id}>
            <td>{device.name}</td>
            <td>
              <PartPick
                label={`Device that plays the part of ${device.name}`}
                part={match.devices[device.id] ?? null}
                own={rig.devices.filter((d) => d.role === device.role)}
                onPick={(part) =>
                  onMatch((m) => ({
                    ...m,
                    devices: { ...m.devices, [device.id]: part },
                    functions: { ...m.functions, ...proposeFunctions(device, targetOf(part, rig)) },
                  }))
                }
              />
            </td>
            <td>
              <Functions
                device={device}
                mine={targetOf(match.devices[device.id] ?? null, rig)}
                match={match}
                onPick={(id, to) => onMatch((m) => ({ ...m, functions: { ...m.functions, [id]: to } }))}
              />
            </td>
          </tr>
        ))}
      </tbody>
    </table>
  );
}

function LeftOut({ leftOut }: Pick<TakenIn, 'leftOut'>) {
  if (leftOut.length === 0) return null;
  return (
    <details open>
      <summary>
        <TriangleAlert size={16} aria-hidden="true" /> Left out: {counted(leftOut.length, 'thing')}
      </summary>
      <ul>
        {leftOut.slice(0, LEFT_OUT_SHOWN).map((l, i) => (
          <li key={i}>
            <b>{l.name}</b> <span className="muted">in {l.where}.</span> {l.sentence}
          </li>
        ))}
      </ul>
      {leftOut.length > LEFT_OUT_SHOWN && <p className="muted">and {leftOut.length - LEFT_OUT_SHOWN} more</p>}
    </details>
  );
}

const LEFT_OUT_SHOWN = 100;

/** The same under names that are free here. */
function renamed<D extends { readonly name: string }>(
  docs: readonly D[],
  own: readonly { readonly name: string }[],
): readonly D[] {
  const names = own.map((o) => o.name);
  return docs.map((doc) => {
    const name = freeName(names, doc.name);
    names.push(name);
    return name === doc.name ? doc : { ...doc, name };
  });
}

const isOne = ({ presets, songs, sets }: TakenIn): boolean =>
  presets.length + songs.length + sets.length === 1;

const comesWords = ({ presets, songs, sets, added }: TakenIn): string =>
  [
    ...(songs.length > 0 ? [counted(songs.length, 'song')] : []),
    ...(sets.length > 0 ? [counted(sets.length, 'set')] : []),
    ...(presets.length > 0 ? [counted(presets.length, 'preset')] : []),
    ...(songs.length + sets.length + presets.length === 0 ? [counted(added.length, 'device')] : []),
  ].join(', ');

const targetOf = (part: Part, rig: FullRig): Device | undefined =>
  part?.kind === 'mine' ? rig.devices.find((d) => d.id === part.id) : undefined;

const ADD = 'add';
const NONE = 'none';

function PartPick({
  label,
  part,
  own,
  onPick,
}: {
  label: string;
  part: Part;
  own: readonly { readonly id: string; readonly name: string }[];
  onPick(part: Part): void;
}) {
  return (
    <Pick
      hideLabel
      label={label}
      value={part === null ? NONE : part.kind === 'add' ? ADD : part.id}
      options={[
        ...own.map((d) => ({ value: d.id, text: d.name })),
        { value: ADD, text: 'add theirs to my rig' },
        { value: NONE, text: 'nothing: leave it out' },
      ]}
      onPick={(value) =>
        onPick(value === NONE ? null : value === ADD ? { kind: 'add' } : { kind: 'mine', id: value })
      }
    />
  );
}

/** Rows of a chart whose part is not played by one of the same name: which one does. */
function Functions({
  device,
  mine,
  match,
  onPick,
}: {
  device: Device;
  mine: Device | undefined;
  match: Match;
  onPick(functionId: string, to: string | null): void;
}) {
  const names = new Map(mine?.chart.map((fn) => [fn.id, fn.name]));
  if (device.chart.length === 0) return <span className="muted">none</span>;
  if (!mine) return <span className="muted">{counted(device.chart.length, 'function')}</span>;
  const odd = device.chart.filter((fn) => names.get(match.functions[fn.id] ?? '') !== fn.name);
  if (odd.length === 0)
    return <span className="muted">all {counted(device.chart.length, 'function')} by their names</span>;
  return (
    <details>
      <summary>
        {counted(odd.length, 'function')} of {device.chart.length} by another name, or not there
      </summary>
      <ul className="take-in-functions">
        {odd.map((fn) => (
          <li key={fn.id}>
            <span>{fn.name}</span>
            <Pick
              hideLabel
              label={`Function that plays the part of ${device.name} ${fn.name}`}
              value={match.functions[fn.id] ?? NONE}
              options={[
                { value: NONE, text: 'nothing: leave it out' },
                ...mine.chart.map((f) => ({ value: f.id, text: f.name })),
              ]}
              onPick={(value) => onPick(fn.id, value === NONE ? null : value)}
            />
          </li>
        ))}
      </ul>
    </details>
  );
}
