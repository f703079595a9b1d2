import type { Song } from '@idle-step/core/show';
import { notInFile, type NotInFile } from '@idle-step/core/songFile';
import { FileDown } from 'lucide-react';
import { useState } from 'react';
import { Button, Modal } from 'react-bootstrap';
import { saveBytes } from '../../../files/saveTextFile';
import { useWorld } from '../../../live/use/useLive';
import { IconButton } from '../../../ui/IconButton';
import { useUndoNotice } from '../../../ui/hooks/useUndoNotice';
import { songFile } from './songPlayer';

const WORDS: Readonly<Record<NotInFile, string>> = {
  layers: 'Layers and routes that its scenes switch are left out.',
  banks: 'Banks and pages that its scenes turn to are left out.',
  glides: 'Glides are written as the steps that are sent, not as glides.',
  lengths: 'Parts of unknown length are written with 8 bars.',
  loop: 'The loop is left out.',
  clock: 'The clock is left out: a file has the tempos themselves.',
  away: 'What its cues do to the time line, the loop and other songs is left out.',
  remarks: 'Remarks are left out.',
  looks: 'Key, tags and colours are left out.',
};

/**
 * Saves a song as a Standard MIDI File, and says before what that does not hold. The song is played from its beginning to
 * its end for it, beside the page: a long one takes a moment.
 */
export function SaveMidiFile({ song }: { song: Song }) {
  const world = useWorld();
  const notice = useUndoNotice();
  const [isBusy, setIsBusy] = useState(false);
  const [left, setLeft] = useState<readonly NotInFile[] | null>(null);
  const save = async () => {
    setLeft(null);
    setIsBusy(true);
    try {
      saveBytes(`${song.name}.mid`, 'audio/midi', await songFile(world, song));
    } catch {
      notice.tell(
        `${song.name} could not be written as a MIDI file. Load this page again, then save it again.`,
      );
    }
    setIsBusy(false);
  };
  const ask = () => {
    const lost = notInFile(song);
    if (lost.length > 0) setLeft(lost);
    else void save();
  };
  return (
    <>
      <IconButton
        icon={FileDown}
        label={isBusy ? 'The MIDI file is being written' : 'Save as a MIDI file'}
        disabled={isBusy}
        onClick={ask}
      />
      <Modal
        show={left !== null}
        onHide={() => setLeft(null)}
        animation={false}
        aria-label="Save as a MIDI file"
      >
        <Modal.Header closeButton>
          <Modal.Title as="h2">{song.name} as a MIDI file</Modal.Title>
        </Modal.Header>
        <Modal.Body>
          <ul className="mb-0">
            {left?.map((what) => (
              <li key={what}>{WORDS[what]}</li>
            ))}
          </ul>
        </Modal.Body>
        <Modal.Footer>
          <Button variant="quiet" onClick={() => setLeft(null)}>
            Leave it
          </Button>
          <Button variant="go" autoFocus onClick={() => void save()}>
            Save the file
          </Button>
        </Modal.Footer>
      </Modal>
    </>
  );
}
