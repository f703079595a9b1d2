import { type FullRig, type Route, LAYERS_AT_MOST, layersOf, type Layer } from '@idle-step/core/routing';
import { type Song, routeKey, sceneSurround } from '@idle-step/core/show';
import { readWhole } from '@idle-step/core/typed';
import { Name, whole } from '@idle-step/contract';
import { inputsAtComputer, outputsAtComputer, portWords } from '@idle-step/core/gear';
import { Plus, Trash2 } from 'lucide-react';
import { useMemo } from 'react';
import { Button } from 'react-bootstrap';
import { NoteField } from '../../../actions/NoteField';
import { channelOptions, OWN_CHANNEL } from '../../../actions/channelOptions';
import { useEdit } from '../../../drafts/useDocs';
import { useRemoval } from '../../../gear/useRemoval';
import { layersUsed, rangeWords } from '../../../edits/lineRows';
import { newLayer, withLayerNamed, withRoute, withRoutes } from '../../../edits/routeEdits';
import { mapScene, withoutValue, withValue } from '@idle-step/core/sheet';
import { Cloth } from '../../../ui/Cloth';
import { NumberField, Pick, TextField, TypedField } from '../../../ui/Fields';
import { IconButton } from '../../../ui/IconButton';
import { TapeMark } from '../../../ui/TapeMark';
import { nth } from '@idle-step/core/sure';

const Semitones = whole('Transposition', -127, 127, ' semitones');

/** Which keys or pads play which instrument, and in which scenes. */
export function LayersRoom({ rig, song }: { rig: FullRig; song: Song }) {
  const editRig = useEdit('rigs');
  const used = layersUsed(song);
  const all = useMemo(() => layersOf(rig), [rig]);
  const layers = all.toSorted((a, b) => Number(used.has(b.route.id)) - Number(used.has(a.route.id)));
  const isFull = layers.filter((l) => used.has(l.route.id)).length >= LAYERS_AT_MOST;
  const add = () => {
    const made = newLayer(rig);
    editRig(rig.id, 'add a layer', (r) =>
      withLayerNamed(
        withRoutes(r, (routes) => [made, ...routes]),
        made.id,
      ),
    );
  };
  return (
    <div className="layers-room">
      <div className="time-head">
        <span className="muted">
          {layers.length === 0
            ? 'No layer in this rig yet'
            : `${layers.length} in this rig, ${layers.filter((l) => used.has(l.route.id)).length} in this song`}
        </span>
        <span className="gap" />
        <Button variant="quiet" onClick={add} disabled={isFull}>
          <Plus size={16} strokeWidth={1.75} aria-hidden="true" />
          Layer
        </Button>
      </div>
      {layers.length === 0 && (
        <div className="empty-place">
          <h2>Which keys play what</h2>
          <p>
            A layer is an instrument that keys or pads play over a range, transposed if you like. Each scene
            says whether it sounds, and how loud; songs that do not name it leave it silent.
          </p>
          <Button variant="go" onClick={add}>
            Add a layer
          </Button>
        </div>
      )}
      {isFull && <p className="small muted">A song has up to {LAYERS_AT_MOST} layers.</p>}
      <ul className="layer-list">
        {layers.map((layer) => (
          <LayerLine key={layer.route.id} rig={rig} song={song} layer={layer} />
        ))}
      </ul>
    </div>
  );
}

function LayerLine({ rig, song, layer: { route, level } }: { rig: FullRig; song: Song; layer: Layer }) {
  const editRig = useEdit('rigs');
  const change = (what: string, to: (r: Route) => Route) =>
    editRig(rig.id, what, (r) => withLayerNamed(withRoute(r, route.id, to), route.id));
  const span = route.from.numbers[0] ?? { from: 0, to: 127 };
  const withSpan = (part: Partial<typeof span>) => {
    const next = { ...span, ...part };
    const ordered = { from: Math.min(next.from, next.to), to: Math.max(next.from, next.to) };
    const all = ordered.from === 0 && ordered.to === 127;
    change('change the range of a layer', (r) => ({
      ...r,
      from: { ...r.from, numbers: all ? [] : [ordered] },
    }));
  };
  const to = route.to[0];
  const removal = useRemoval(rig);
  const remove = () =>
    removal.ask(route.name, (r) => withRoutes(r, (list) => list.filter((x) => x.id !== route.id)));
  return (
    <li className="layer-line" aria-label={route.name}>
      <div className="layer-head">
        {level && <TapeMark mark={level.device.mark} size={18} name={level.device.name} />}
        <TextField
          hideLabel
          label="Name of the layer"
          className="layer-name"
          value={route.name}
          schema={Name}
          onCommit={(name) => change('rename a layer', (r) => ({ ...r, name }))}
        />
        <Pick
          label="Played at"
          value={route.from.portIds[0] ?? ''}
          options={[
            { value: '', text: 'any input' },
            ...inputsAtComputer(rig).map(({ device, port }) => ({
              value: port.id,
              text: portWords(device, port),
            })),
          ]}
          onPick={(portId) =>
            change('change where a layer is played', (r) => ({
              ...r,
              from: { ...r.from, portIds: portId ? [portId] : [] },
            }))
          }
        />
        <NoteField label="From" value={span.from} onCommit={(from) => withSpan({ from })} />
        <NoteField label="to" value={span.to} onCommit={(note) => withSpan({ to: note })} />
        <NumberField
          label="Semitones"
          className="narrow"
          value={route.change.transpose}
          schema={Semitones}
          onCommit={(transpose) =>
            change('transpose a layer', (r) => ({ ...r, change: { ...r.change, transpose } }))
          }
        />
        <Pick
          label="Plays"
          value={to?.portId ?? ''}
          options={[
            ...(to ? [] : [{ value: '', text: 'nothing yet' }]),
            ...outputsAtComputer(rig).map(({ device, port }) => ({
              value: port.id,
              text: portWords(device, port),
            })),
          ]}
          onPick={(portId) =>
            change('change what a layer plays', (r) => ({
              ...r,
              to: portId ? [{ portId, channel: to?.channel ?? null }] : [],
            }))
          }
        />
        <Pick
          label="Channel"
          className="tiny"
          value={to?.channel ?? OWN_CHANNEL}
          options={channelOptions(null).map((o) =>
            o.value === OWN_CHANNEL ? { ...o, text: 'as played' } : o,
          )}
          disabled={!to}
          onPick={(channel) =>
            change('change the channel of a layer', (r) => ({
              ...r,
              to: r.to.map((t, i) =>
                i === 0 ? { ...t, channel: channel === OWN_CHANNEL ? null : channel } : t,
              ),
            }))
          }
        />
        <span className="gap" />
        <IconButton icon={Trash2} label={`Remove ${route.name}`} onClick={remove} />
        {removal.dialog}
      </div>
      <KeySpan
        from={span.from}
        to={span.to}
        words={rangeWords(route, rig.middleC)}
        colour={level?.device.mark.colour ?? 'slate'}
      />
      <div className="layer-scenes">
        {song.scenes.map((scene, i) => (
          <SceneSwitch
            key={scene.id}
            song={song}
            sceneIndex={i}
            route={route}
            levelId={level?.fn.id ?? null}
          />
        ))}
      </div>
    </li>
  );
}

/** Whether a layer sounds in a scene, and how loud: its own word, or what is carried from the left. */
function SceneSwitch({
  song,
  sceneIndex,
  route,
  levelId,
}: {
  song: Song;
  sceneIndex: number;
  route: Layer['route'];
  levelId: string | null;
}) {
  const edit = useEdit('songs');
  const scene = nth(song.scenes, sceneIndex);
  const said = sceneSurround(song, sceneIndex).routes.get(routeKey(route.id, 'route'));
  const on = said?.value ?? route.isOn;
  const own = scene.values.find((v) => v.functionId === levelId);
  const carried = song.scenes
    .slice(0, sceneIndex)
    .flatMap((s) => s.values.find((v) => v.functionId === levelId) ?? [])
    .at(-1);
  return (
    <span className="layer-scene">
      <button
        type="button"
        className={on ? 'on' : ''}
        aria-pressed={on}
        title={
          said && said.setIn !== sceneIndex
            ? 'Carried over from the left; press to set it here'
            : 'Press to switch'
        }
        onClick={() =>
          edit(song.id, on ? 'silence a layer' : 'sound a layer', (s) =>
            mapScene(s, scene.id, (x) => ({
              ...x,
              routes: [
                ...x.routes.filter((r) => r.routeId !== route.id || r.part !== 'route'),
                { routeId: route.id, part: 'route', on: !on },
              ],
            })),
          )
        }
      >
        <Cloth text={scene.name} colour={scene.colour} />
        <span className="small">{on ? 'sounds' : 'silent'}</span>
      </button>
      {levelId !== null && (
        <TypedField
          hideLabel
          label={`Level of ${route.name} in ${scene.name}`}
          className="level-field"
          numeric
          placeholder={carried ? String(carried.value) : 'level'}
          shown={own ? String(own.value) : ''}
          parse={parseLevel}
          onCommit={(value) =>
            edit(song.id, 'change the level of a layer', (s) =>
              value === null ? withoutValue(s, scene.id, levelId) : withValue(s, scene.id, levelId, value),
            )
          }
        />
      )}
    </span>
  );
}

/** 0 to 127, or nothing where it stays. */
function parseLevel(text: string): { value: number | null; error?: undefined } | { error: string } {
  if (text.trim() === '' || text.trim() === '-') return { value: null };
  const value = readWhole(text);
  return value !== null && value >= 0 && value <= 127
    ? { value }
    : { error: `“${text}” is no level; 0 to 127 would be right.` };
}

/** The range over 128 keys, with an octave mark at each C. */
function KeySpan({ from, to, words, colour }: { from: number; to: number; words: string; colour: string }) {
  return (
    <div className="key-span" role="img" aria-label={words}>
      {Array.from({ length: 11 }, (_, octave) => (
        <i key={octave} style={{ left: `${((octave * 12) / 128) * 100}%` }} />
      ))}
      <b
        className={`tape-${colour}`}
        style={{ left: `${(from / 128) * 100}%`, width: `${((to - from + 1) / 128) * 100}%` }}
      >
        {words}
      </b>
    </div>
  );
}
