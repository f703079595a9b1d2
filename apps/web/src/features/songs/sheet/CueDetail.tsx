import { type Song, type Cue, beatAt, secondsAt, type SongLine } from '@idle-step/core/show';
import { PartName } from '@idle-step/contract';
import { Plus, Trash2, X } from 'lucide-react';
import { useState } from 'react';
import { Button } from 'react-bootstrap';
import { ActionLines, firstAction } from '../../../actions/ActionLines';
import { useEdit } from '../../../drafts/useDocs';
import { mapCue, withoutCue } from '../../../edits/lineEdits';
import { useLiveHost, useWorld } from '../../../live/use/useLive';
import { TextField, TypedField } from '../../../ui/Fields';
import { IconButton } from '../../../ui/IconButton';
import { barBeatText, minutes, parseBarBeat } from '../../../words/times';

/** The cue in hand: its name, its place, and what it does. */
export function CueDetail({
  song,
  cue,
  line,
  isInPlay,
  onClose,
}: {
  song: Song;
  cue: Cue;
  line: SongLine;
  isInPlay: boolean;
  onClose(): void;
}) {
  const edit = useEdit('songs');
  const host = useLiveHost();
  const world = useWorld();
  const [openId, setOpenId] = useState<string | null>(null);
  const change = (label: string, part: Partial<Cue>) => edit(song.id, label, (s) => mapCue(s, cue.id, part));
  const add = () => {
    const action = firstAction(world);
    change('add an action', { actions: [...cue.actions, action] });
    setOpenId(action.id);
  };
  return (
    <section className="line-detail" aria-label="The cue in hand">
      <div className="line-detail-head">
        <TextField
          label="Name of the cue"
          value={cue.name}
          placeholder="cue"
          schema={PartName}
          onCommit={(name) => change('rename a cue', { name })}
        />
        <TypedField
          label="Bar and beat"
          className="narrow"
          numeric
          shown={barBeatText(cue)}
          parse={parseBarBeat}
          onCommit={(at) => change('move a cue', at)}
        />
        <span className="num muted detail-time">{minutes(secondsAt(line, beatAt(line, cue)))}</span>
        <Button variant="quiet" onClick={add}>
          <Plus size={16} strokeWidth={1.75} aria-hidden="true" />
          Action
        </Button>
        <span className="gap" />
        {isInPlay && (
          <Button
            variant="go"
            onClick={() =>
              host.command({ kind: 'cue', index: line.cues.findIndex((c) => c.cue.id === cue.id) })
            }
          >
            Jump here
          </Button>
        )}
        <IconButton
          icon={Trash2}
          label="Remove this cue"
          onClick={() => {
            edit(song.id, 'remove a cue', (s) => withoutCue(s, cue.id));
            onClose();
          }}
        />
        <IconButton icon={X} label="Close" onClick={onClose} />
      </div>
      {cue.actions.length === 0 && (
        <p className="small muted">This cue does nothing yet. Add what should happen at its beat.</p>
      )}
      <ActionLines
        label="Actions of the cue in order"
        home={{ kind: 'cue', song }}
        actions={cue.actions}
        openId={openId}
        onOpen={setOpenId}
        onChange={(what, actions) => change(what, { actions })}
      />
    </section>
  );
}
