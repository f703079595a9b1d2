import type { FullRig } from '@idle-step/core/routing';
import { type Song, barText } from '@idle-step/core/show';
import { measure, SongSchema } from '@idle-step/contract';
import { Copy, Plus, Trash2 } from 'lucide-react';
import { Button } from 'react-bootstrap';
import { Link, NavLink, useLocation, useNavigate } from 'react-router-dom';
import { useSteps } from '../../../drafts/useSteps';
import { useSetsWithQuery } from '../../../api/api';
import { useEdit, usePresets } from '../../../drafts/useDocs';
import { NumberField, TextField, TypedField } from '../../../ui/Fields';
import { PlaceHint } from '../../../documents/PlaceHint';
import { DocumentHead } from '../../../documents/DocumentHead';
import { IconButton } from '../../../ui/IconButton';
import { useStateOf } from '../../../ui/hooks/useStateOf';
import { CapturePanel } from '../scenes/CapturePanel';
import { CueGrid } from './CueGrid';
import { PartStrip } from '../scenes/PartStrip';
import { PlanPanel } from '../scenes/PlanPanel';
import { LayersRoom } from '../scenes/LayersRoom';
import { TimeRoom } from '../time/TimeRoom';
import type { InHand } from './inHand';
import { CellBar } from './CellBar';
import { SaveMidiFile } from '../files/SaveMidiFile';
import { SceneBar, type SceneSheet } from '../scenes/SceneBar';
import { withNewScene } from '../../../edits/songEdits';
import { minutes, parseBar, parseMinutes } from '../../../words/times';
import { isRecord, nth } from '@idle-step/core/sure';

const ROOMS = [
  { room: '', text: 'Sheet' },
  { room: 'time', text: 'Time' },
  { room: 'layers', text: 'Layers' },
] as const;

/** One song: its cue sheet, the song in time, and the layers that its scenes switch. */
export function CueSheet({
  rig,
  song,
  room,
  isLeaving,
  onDuplicate,
}: {
  rig: FullRig;
  song: Song;
  room: string;
  /** Another song is on its way: this one is only looked at. */
  isLeaving: boolean;
  onDuplicate(): void;
}) {
  const edit = useEdit('songs');
  const [inHand, setInHand] = useStateOf<InHand>(song.id, null);
  const addScene = () => {
    const added = withNewScene(song);
    edit(song.id, 'add a scene', () => added.song);
    setInHand({ kind: 'scene', sceneIndex: added.song.scenes.length - 1 });
  };
  const open = ROOMS.find((r) => r.room === room)?.room ?? '';
  return (
    <div className={isLeaving ? 'cue-sheet leaving' : 'cue-sheet'} inert={isLeaving}>
      {isLeaving && (
        <p className="sheet-coming" role="status">
          Loading …
        </p>
      )}
      <SongHead key={`head ${song.id}`} song={song} onDuplicate={onDuplicate} />
      <PlaceHint place="songs" />
      <div className="song-rooms">
        <nav className="tabs song-tabs" aria-label="Rooms of this song">
          {ROOMS.map((r) => (
            <NavLink
              key={r.room}
              end
              to={`/songs/${song.id}${r.room ? `/${r.room}` : ''}`}
              className={r.room === open ? 'on' : ''}
            >
              {r.text}
            </NavLink>
          ))}
          <NavLink to={`/songs/book?song=${song.id}`}>The book</NavLink>
        </nav>
        <Button variant="quiet" onClick={addScene}>
          <Plus size={16} strokeWidth={1.75} aria-hidden="true" />
          Scene
        </Button>
      </div>
      {open === 'time' ? (
        <TimeRoom key={`time ${song.id}`} rig={rig} song={song} />
      ) : open === 'layers' ? (
        <LayersRoom key={`layers ${song.id}`} rig={rig} song={song} />
      ) : (
        <SheetRoom rig={rig} song={song} inHand={inHand} onPick={setInHand} />
      )}
    </div>
  );
}

/** Scenes across, the functions of the rig down, and below them what is in hand. */
function SheetRoom({
  rig,
  song,
  inHand,
  onPick,
}: {
  rig: FullRig;
  song: Song;
  inHand: InHand;
  onPick(inHand: InHand): void;
}) {
  const presets = usePresets(rig.id);
  const [sheet, setSheet] = useStateOf<SceneSheet>(song.id, null);
  const scene = inHand && song.scenes[inHand.sceneIndex] ? inHand : null;
  const setInHand = onPick;
  return (
    <>
      <PartStrip key={`parts ${song.id}`} song={song} />
      <CueGrid rig={rig} presets={presets} song={song} inHand={inHand} onPick={setInHand} />
      {scene?.kind === 'scene' && sheet === 'capture' && (
        <CapturePanel
          key={`capture ${song.id} ${scene.sceneIndex}`}
          song={song}
          sceneIndex={scene.sceneIndex}
          onDone={() => setSheet(null)}
        />
      )}
      {scene?.kind === 'scene' && sheet === 'plan' && (
        <PlanPanel key={`plan ${song.id} ${scene.sceneIndex}`} rig={rig} song={song} to={scene.sceneIndex} />
      )}
      {scene?.kind === 'cell' && (
        <CellBar key={`cell ${song.id}`} rig={rig} presets={presets} song={song} at={scene} />
      )}
      {scene?.kind === 'scene' && (
        <SceneBar
          key={`scene ${song.id}`}
          song={song}
          sceneIndex={scene.sceneIndex}
          onPick={setInHand}
          sheet={sheet}
          onSheet={(wanted) => setSheet(sheet === wanted ? null : wanted)}
        />
      )}
    </>
  );
}

function SongHead({ song, onDuplicate }: { song: Song; onDuplicate(): void }) {
  const edit = useEdit('songs');
  const { deleteDoc } = useSteps();
  const navigate = useNavigate();
  const state: unknown = useLocation().state;
  const change = (label: string, part: Partial<Song>) => edit(song.id, label, (s) => ({ ...s, ...part }));
  const deleteSong = () => deleteDoc('songs', song.id, song.name, () => void navigate('/songs'));
  return (
    <DocumentHead
      title={song.name}
      named={{
        label: 'Name of the song',
        onRename: (name) => change('rename a song', { name }),
        isNew: isRecord(state) && state['madeId'] === song.id,
      }}
      doc={{ resource: 'songs', id: song.id }}
      className="song-head"
      facts={
        <>
          <span className="inline-field">
            <NumberField
              hideLabel
              label="Tempo, bpm"
              className="narrow"
              value={song.tempoBpm}
              schema={measure('Tempo', 20, 400, 'bpm')}
              onCommit={(tempoBpm) => change('change the tempo', { tempoBpm })}
            />
            <span className="muted">bpm</span>
          </span>
          <span className="inline-field">
            <TypedField
              hideLabel
              label="Bar, like 4/4 or 6/8"
              className="tiny"
              shown={barText(song)}
              parse={parseBar}
              onCommit={(bar) => change('change the bar', bar)}
            />
            <span className="muted">bar</span>
          </span>
          <span className="inline-field">
            <TypedField
              hideLabel
              label="Length, minutes:seconds"
              className="narrow"
              numeric
              shown={minutes(song.lengthS)}
              parse={parseMinutes}
              onCommit={(lengthS) => change('change the length', { lengthS })}
            />
            <span className="muted">min</span>
          </span>
        </>
      }
    >
      <span className="song-words">
        <TextField
          hideLabel
          label="Key"
          className="key-field"
          placeholder="key"
          value={song.key}
          schema={SongSchema.shape.key}
          onCommit={(key) => change('change the key', { key })}
        />
        <TypedField
          hideLabel
          label="Tags, with commas between"
          className="tags-field"
          placeholder="tags"
          shown={song.tags.join(', ')}
          parse={parseTags}
          onCommit={(tags) => change('change the tags', { tags })}
        />
      </span>
      <span className="gap" />
      <UsedIn song={song} />
      <IconButton icon={Copy} label="Duplicate this song" onClick={onDuplicate} />
      <SaveMidiFile song={song} />
      <Button
        variant="bare"
        className="btn-icon"
        aria-label={`Delete ${song.name}`}
        title="Delete this song; it can be brought back"
        onClick={() => void deleteSong()}
      >
        <Trash2 size={16} strokeWidth={1.75} aria-hidden="true" />
      </Button>
    </DocumentHead>
  );
}

/** Words with commas between, each once. */
function parseTags(text: string): { value: string[]; error?: undefined } | { error: string } {
  const tags = [
    ...new Set(
      text
        .split(',')
        .map((t) => t.trim())
        .filter(Boolean),
    ),
  ];
  const result = SongSchema.shape.tags.safeParse(tags);
  return result.success ? { value: result.data } : { error: nth(result.error.issues, 0).message };
}

/** The sets that a song stands in. */
function UsedIn({ song }: { song: Song }) {
  const { data } = useSetsWithQuery(
    { rigId: song.rigId, songId: song.id },
    { refetchOnMountOrArgChange: true },
  );
  const used = data?.items ?? [];
  return (
    <span className="small muted used-in" title={used.map((s) => s.name).join(', ')}>
      {data && used.length === 0 && 'in no set'}
      {used.length === 1 && (
        <>
          in <Link to={`/sets/${nth(used, 0).id}`}>{nth(used, 0).name}</Link>
        </>
      )}
      {used.length > 1 && `in ${used.length} sets`}
    </span>
  );
}
