import { barText, partName } from '@idle-step/core/show';
import { Button } from 'react-bootstrap';
import type { ReadSong } from '../../../files/songFiles';
import { Cloth } from '../../../ui/Cloth';
import { amountText, bpmText, minutes } from '../../../words/times';
import { counted } from '../../../words/counted';

/** What would be made of a file, before it is. */
export function SmfPanel({
  read: { song, from, fileName },
  onMake,
  onLeave,
}: {
  read: ReadSong;
  onMake(): void;
  onLeave(): void;
}) {
  const values = song.scenes.reduce((n, s) => n + s.values.length, 0);
  const left = [
    from.notes > 0 ? `${from.notes} notes are left out: a song sets the rig, it does not play it.` : '',
    from.unknown > 0
      ? `${counted(from.unknown, 'message is', 'messages are')} left out: no device of this rig answers to them.`
      : '',
    from.limited > 0
      ? `${from.limited} tempos are slower than 20 or faster than 400 bpm: they are kept at that, so the times after them differ.`
      : '',
    from.leftOut > 0 ? `${from.leftOut} changes of tempo or bar are left out: a song cannot hold them.` : '',
  ].filter(Boolean);
  return (
    <section className="work-pad smf-look" aria-label="MIDI file">
      <div className="place-head">
        <h1>{song.name}</h1>
        <span className="muted">from {fileName}</span>
        <span className="gap" />
        <Button variant="go" onClick={onMake}>
          Make this song
        </Button>
        <Button variant="quiet" onClick={onLeave}>
          Leave it
        </Button>
      </div>
      <p>
        {bpmText(song.tempoBpm)} bpm, {barText(song)}, {minutes(song.lengthS)}; {song.scenes.length}{' '}
        {song.scenes.length === 1 ? 'scene' : 'scenes'} that set {values} {values === 1 ? 'value' : 'values'},
        played in {song.parts.length} {song.parts.length === 1 ? 'part' : 'parts'}:
      </p>
      <ol className="part-list">
        {song.parts.map((part) => (
          <li key={part.id}>
            <Cloth text={partName(song, part)} />
            <span className="num small muted">
              {part.length && `${amountText(part.length.amount)} ${part.length.unit}`}
            </span>
          </li>
        ))}
      </ol>
      {left.map((sentence) => (
        <p key={sentence} className="muted">
          {sentence}
        </p>
      ))}
    </section>
  );
}
