import type { FullRig } from '@idle-step/core/routing';
import type { Song } from '@idle-step/core/show';
import type { Preset } from '@idle-step/core/floor';
import { spoiledBy, type ProblemUser } from '@idle-step/contract';
import { useState, type ReactNode } from 'react';
import { Button, Modal } from 'react-bootstrap';
import { useLosersMutation } from '../api/api';
import { useEdit, usePresets, useSongs } from '../drafts/useDocs';
import { useSteps } from '../drafts/useSteps';
import { nth, there } from '@idle-step/core/sure';
import { Trouble } from '../ui/Trouble';

/** A place that uses what is to be removed. */
type User = { readonly kind: 'song' | 'preset'; readonly name: string; readonly places: readonly string[] };
type Asked = {
  readonly name: string;
  readonly change: (rig: FullRig) => FullRig;
  readonly users: readonly User[];
  readonly instead: { readonly text: string; readonly change: (rig: FullRig) => FullRig } | null;
};

/**
 * Removing parts of a rig. What nothing uses goes at once and comes back with undo; what songs or presets use is asked
 * about first: keep it, take it out there too, or what may be done `instead`.
 */
export function useRemoval(rig: FullRig): {
  ask(name: string, change: Asked['change'], instead?: Asked['instead'], onDone?: () => void): void;
  dialog: ReactNode;
} {
  const edit = useEdit('rigs');
  const songs = useSongs(rig.id);
  const presets = usePresets(rig.id);
  const { remove } = useSteps();
  const [losers] = useLosersMutation();
  const [asked, setAsked] = useState<(Asked & { onDone: () => void }) | null>(null);
  const [isBusy, setBusy] = useState(false);
  const [trouble, setTrouble] = useState<string | null>(null);
  const close = () => {
    setAsked(null);
    setTrouble(null);
  };
  const done = (then: Asked & { onDone: () => void }) => {
    then.onDone();
    close();
  };
  const takeOutThere = async (then: Asked & { onDone: () => void }) => {
    setBusy(true);
    const where = then.users.map((u) => u.name).join(', ');
    const refused = await remove(rig.id, `${then.name} was removed, and taken out of ${where}`, then.change);
    setBusy(false);
    if (refused) setTrouble(refused);
    else done(then);
  };
  return {
    ask: (name, change, instead = null, onDone = () => undefined) => {
      const next = change(rig);
      // Songs that are not in the page are known to the server; where it does not answer, those that are have to do.
      void losers(next).then(({ data = [] }) => {
        const users = [...usersOf(rig, next, songs, presets), ...songsElsewhere(data, songs)];
        if (users.length > 0) setAsked({ name, change, users, instead, onDone });
        else {
          edit(rig.id, `remove ${name}`, change);
          onDone();
        }
      });
    },
    dialog: asked && (
      <Modal show onHide={close} aria-labelledby="removal-title">
        <Modal.Body>
          <h2 id="removal-title">{asked.name} is in use</h2>
          <ul className="removal-users">
            {asked.users.map((u) => (
              <li key={`${u.kind} ${u.name}`}>
                <span className="muted">{u.kind}</span> <b>{u.name}</b>
                <span className="muted small"> {u.places.join(', ')}</span>
              </li>
            ))}
          </ul>
          <Trouble>{trouble}</Trouble>
        </Modal.Body>
        <Modal.Footer>
          <Button variant="quiet" onClick={close} autoFocus>
            Keep it
          </Button>
          {asked.instead && (
            <Button
              variant="quiet"
              onClick={() => {
                edit(rig.id, there(asked.instead).text, there(asked.instead).change);
                close();
              }}
            >
              {asked.instead.text}
            </Button>
          )}
          <Button variant="panic" disabled={isBusy} onClick={() => void takeOutThere(asked)}>
            {isBusy ? 'Removing …' : 'Remove it, and take it out there'}
          </Button>
        </Modal.Footer>
      </Modal>
    ),
  };
}

/** Songs among those that lose something that are not in the page. */
function songsElsewhere(losers: readonly ProblemUser[], songs: readonly Song[]): User[] {
  const here = new Set(songs.map((s) => s.id));
  const others = new Map<string, { name: string; places: Set<string> }>();
  for (const { kind, id, name, place } of losers) {
    if (kind !== 'song' || here.has(id)) continue;
    const user = others.get(id) ?? { name, places: new Set<string>() };
    user.places.add(nth(place.split(', '), 0));
    others.set(id, user);
  }
  return [...others.values()].map(({ name, places }) => ({ kind: 'song', name, places: [...places] }));
}

/** Songs and presets that would lose something by a change of their rig, with the places. */
function usersOf(
  before: FullRig,
  after: FullRig,
  songs: readonly Song[],
  presets: readonly Preset[],
): User[] {
  const of = (kind: User['kind'], doc: Song | Preset): User[] => {
    const spoiled = spoiledBy(before, after, doc);
    if (spoiled.length === 0) return [];
    const isWhole = spoiled.some((f) => f.place.field === 'boardId');
    const places = isWhole ? ['all of it'] : [...new Set(spoiled.map((f) => nth(f.where.split(', '), 0)))];
    return [{ kind, name: doc.name, places }];
  };
  return [...songs.flatMap((song) => of('song', song)), ...presets.flatMap((p) => of('preset', p))];
}
