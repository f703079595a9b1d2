import type { FullRig } from '@idle-step/core/routing';
import { moversOf, type Mover } from '@idle-step/core/proof';
import { shownText } from '@idle-step/core/gear';
import { Link } from 'react-router-dom';
import { useWorld } from '../../live/use/useLive';
import { Pick } from '../../ui/Fields';
import { useChosen } from './useChosen';

/** Backwards: everything that can move a function. */
export function MoversList({ rig }: { rig: FullRig }) {
  const world = useWorld();
  const functions = rig.devices.flatMap((d) =>
    d.chart.map((f) => ({ value: f.id, text: `${d.name} ${f.name}` })),
  );
  const [chosen, setChosen] = useChosen(functions);
  const reached = world.functions.get(chosen);
  if (functions.length === 0)
    return <p className="muted">No device has a function yet; write one down in Rig.</p>;
  const movers = moversOf(world, chosen);
  const group = (title: string, kind: Mover['kind']) => {
    const some = movers.filter((m) => m.kind === kind);
    return (
      <section aria-label={title}>
        <h2>{title}</h2>
        {some.length === 0 ? (
          <p className="small muted">none</p>
        ) : (
          <ul className="movers">
            {some.map((m, i) => (
              <li key={i}>
                {m.kind === 'control' && (
                  <Link to={`/floor/${m.boardId}`}>
                    {m.deviceName} {m.controlName}
                    <span className="muted">
                      , {GESTURES[m.gesture]} in {m.pageName}
                      {m.isOff ? ', switched off' : ''}
                    </span>
                  </Link>
                )}
                {m.kind === 'scene' && (
                  <Link to={`/songs/${m.songId}`}>
                    {m.songName}, {m.sceneName}
                    <span className="muted num">
                      {' '}
                      {reached ? shownText(reached.device, reached.fn, m.value) : m.value}
                    </span>
                  </Link>
                )}
                {m.kind === 'route' && (
                  <Link to="/routes">
                    {m.routeName}
                    {!m.isOn && <span className="muted">, off</span>}
                  </Link>
                )}
              </li>
            ))}
          </ul>
        )}
      </section>
    );
  };
  return (
    <>
      <Pick label="Function" value={chosen} options={functions} onPick={(next) => setChosen(next)} />
      <div className="movers-columns">
        {group('Controls', 'control')}
        {group('Scenes of this set', 'scene')}
        {group('Routes', 'route')}
      </div>
    </>
  );
}

const GESTURES = {
  press: 'press',
  release: 'release',
  hold: 'hold',
  doublePress: 'double press',
  toe: 'toe down',
  heel: 'heel down',
  sweep: 'sweep',
} as const;
