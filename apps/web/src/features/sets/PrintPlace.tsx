import { partName, partsOf, setTimes } from '@idle-step/core/show';
import { useState } from 'react';
import { Button, ButtonGroup } from 'react-bootstrap';
import { Link, useParams } from 'react-router-dom';
import { useOpened, useRig, useSongsOf } from '../../drafts/useDocs';
import { minutes, timeInSet } from '../../words/times';

/** A set on paper: one page to read from the floor, or a long one with scenes and remarks. */
export function PrintPlace() {
  const { rig } = useRig();
  const { setId } = useParams();
  const set = useOpened('sets', rig?.id, setId);
  const { songs, isLoaded } = useSongsOf(set ?? null);
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
  return (
    <main className={`print-sheet ${isLong ? 'long' : 'large'}`}>
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
        {times.entries.map(({ entry, song, number, startS }) => (
          <li key={entry.id} className={`${entry.kind} ${entry.isEncore ? 'encore' : ''}`}>
            <span className="print-number">{number ?? ''}</span>
            <span className="print-name">{entry.kind === 'song' ? (song?.name ?? 'gone') : entry.name}</span>
            <span className="print-at">{at(startS)}</span>
            {song && (
              <span className="print-tempo">
                {song.tempoBpm}
                {song.key && ` · ${song.key}`}
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
    </main>
  );
}
