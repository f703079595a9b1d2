import { placeOf, type Pause, type World } from '@idle-step/core/engine';
import { partName } from '@idle-step/core/show';
import { useEffect, useRef } from 'react';
import { Button } from 'react-bootstrap';
import { useLiveHost, useLiveState, usePlace } from '../../live/use/useLive';
import { minutes } from '../../words/times';
import { usePause } from './SetLine';
import { nth } from '@idle-step/core/sure';

/** Brings the line in play into the middle whenever it is another one. */
function useInMiddle(key: string) {
  const list = useRef<HTMLOListElement>(null);
  useEffect(() => {
    const line = list.current?.querySelector<HTMLElement>('[aria-current]');
    if (!line || !list.current) return;
    list.current.scrollTop = line.offsetTop - list.current.clientHeight / 2 + line.clientHeight / 2;
  }, [key]);
  return list;
}

/** The running order: a touch goes to a song. */
export function OrderView({ world }: { world: World }) {
  const host = useLiveHost();
  const { run, position } = useLiveState('run', 'position');
  const { songIndex } = placeOf(world, { position });
  const pause = usePause(world);
  const list = useInMiddle(`${songIndex} ${run?.pauseId ?? ''}`);
  const pauses = world.show.pauses ?? [];
  const before = (index: number) =>
    pauses.filter((p) => p.before === index).map((p) => <PauseLine key={p.id} pause={p} now={pause} />);
  return (
    <ol className="stage-list" aria-label="Running order" ref={list} tabIndex={0}>
      {world.songs.map(({ entryId, song, lengthS }, i) => [
        ...before(i),
        <li key={entryId} aria-current={!pause && i === songIndex ? 'true' : undefined}>
          <button type="button" onClick={() => host.command({ kind: 'song', to: { index: i } })}>
            <span className="num">{i + 1}</span>
            <span className="list-name">{song.name}</span>
            <span className="list-more num">{minutes(lengthS)}</span>
          </button>
        </li>,
      ])}
      {before(world.songs.length)}
      {run && (
        <li className="list-end">
          <Button variant="quiet" onClick={() => host.command({ kind: 'show', to: 'end' })}>
            End the set
          </Button>
        </li>
      )}
    </ol>
  );
}

function PauseLine({ pause, now }: { pause: Pause; now: object | null }) {
  return (
    <li className="list-pause" aria-current={pause === now ? 'true' : undefined}>
      <span className="num" />
      <span className="list-name">{pause.name}</span>
      <span className="list-more num">{pause.kind === 'encore' ? '' : minutes(pause.lengthS)}</span>
    </li>
  );
}

/** The song in play: its remark, and its scenes in the order in which they are played. A touch goes to one. */
export function SongView({ world }: { world: World }) {
  const host = useLiveHost();
  const { songIndex, sceneIndex, partIndex } = usePlace();
  const { song, parts } = nth(world.songs, songIndex);
  const list = useInMiddle(`${song.id} ${partIndex} ${sceneIndex}`);
  return (
    <div className="stage-song">
      {song.remark && <p className="stage-words">{song.remark}</p>}
      <ol className="stage-list" aria-label={`Scenes of ${song.name}`} ref={list} tabIndex={0}>
        {parts.map((part, i) => {
          const at = song.scenes.findIndex((s) => s.id === part.sceneId);
          const remark = [song.scenes[at]?.remark, part.remark].filter(Boolean).join(' · ');
          return (
            <li key={part.id} aria-current={i === partIndex ? 'true' : undefined}>
              <button type="button" onClick={() => host.command({ kind: 'go', songIndex, sceneIndex: at })}>
                <span className="num">{i + 1}</span>
                <span className="list-name">{partName(song, part)}</span>
                <span className="list-more">{remark}</span>
              </button>
            </li>
          );
        })}
      </ol>
    </div>
  );
}
