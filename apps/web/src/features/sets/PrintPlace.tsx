import { partName, partsOf, setTimes } from '@idle-step/core/show';
import { songCalls } from '@idle-step/core/engine';
import { useState } from 'react';
import { Button, ButtonGroup } from 'react-bootstrap';
import { Link, useParams } from 'react-router-dom';
import { useOpened, useRig, useSongsOf } from '../../drafts/useDocs';
import { useWorld } from '../../live/use/useLive';
import { minutes, timeInSet } from '../../words/times';

/** A set on paper: one page to read from the floor, or a long one with scenes and remarks. */
export function PrintPlace() {
  const { rig } = useRig();
  const { setId } = useParams();
  const set = useOpened('sets', rig?.id, setId);
  const { songs, isLoaded } = useSongsOf(set ?? null);
  const world = useWorld();
  const [isLong, setLong] = useState(false);
  if (!rig || !set || !isLoaded)
    return (
      <main className="print-sheet">
        <p>
          {set === null ? 'This set is gone. ' : 'Loading … '}
          <Link to="/sets">Sets</Link>
        </p>
      </main>
    );
  const times = setTimes(set, (id) => songs.find((s) => s.id === id));
  const at = (s: number) => timeInSet(set, s);
  const tonight = times.entries.filter((t) => !t.entry.notTonight);
  const firstEncore = tonight.find((t) => t.entry.isEncore);
  const calls = set.calls && songCalls(world, set.calls, tonight.filter((t) => t.number !== null).length);
  const programOf = (number: number | null) =>
    number === null ? null : (calls?.[number - 1]?.program ?? null);
  return (
    <main className={`print-sheet ${isLong ? 'long' : 'large'}`} data-bs-theme="light">
      <div className="print-tools">
        <ButtonGroup aria-label="Kind of sheet">
          <Button variant="quiet" aria-pressed={!isLong} onClick={() => setLong(false)}>
            One page, large
          </Button>
          <Button variant="quiet" aria-pressed={isLong} onClick={() => setLong(true)}>
            With scenes and remarks
          </Button>
        </ButtonGroup>
        <Button variant="go" onClick={() => window.print()}>
          Print
        </Button>
        <Link to={`/paper/order?set=${set.id}`}>As PDF</Link>
        <Link to={`/sets/${set.id}`}>Back to the set</Link>
      </div>
      <h1>{set.name}</h1>
      <p className="print-about">
        {[set.date, set.place, set.startMin === null ? '' : at(0), minutes(times.playedS)]
          .filter(Boolean)
          .join(' · ')}
      </p>
      {set.remark && <p>{set.remark}</p>}
      <ol>
        {tonight.map(({ entry, song, number, startS, lengthS }) => (
          <li
            key={entry.id}
            className={`${entry.kind} ${entry.isEncore ? 'encore' : ''} ${entry === firstEncore?.entry ? 'first-encore' : ''}`}
          >
            <span className="print-number">{number ?? ''}</span>
            <span className="print-name">{entry.kind === 'song' ? (song?.name ?? 'gone') : entry.name}</span>
            <span className="print-at">
              {at(startS)} <span className="print-length">{minutes(lengthS)}</span>
            </span>
            {song && (
              <span className="print-tempo">
                {song.tempoBpm}
                {song.key && ` · ${song.key}`}
                {programOf(number) !== null && ` · program ${programOf(number)}`}
              </span>
            )}
            {isLong && (
              <div className="print-more">
                {[entry.isEncore ? 'encore' : '', song?.remark, entry.remark].filter(Boolean).join(' · ')}
                {song && entry.kind === 'song' && (
                  <ul>
                    {partsOf(song)
                      .filter((p) => !entry.leftOutSceneIds.includes(p.sceneId))
                      .map((part) => {
                        const scene = song.scenes.find((s) => s.id === part.sceneId);
                        const remarks = [scene?.remark, part.remark].filter(Boolean).join(' · ');
                        return (
                          <li key={part.id}>
                            <b>{partName(song, part)}</b> {remarks}
                          </li>
                        );
                      })}
                  </ul>
                )}
              </div>
            )}
          </li>
        ))}
      </ol>
      <p className="print-end">
        {set.startMin === null ? `Lasts ${minutes(times.playedS)}` : `Ends at ${at(times.playedS)}`}
        {times.encoreS > 0 && `, with encores ${at(times.playedS + times.encoreS)}`}
      </p>
    </main>
  );
}
