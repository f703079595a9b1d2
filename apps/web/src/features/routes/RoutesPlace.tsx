import { NavLink, useParams } from 'react-router-dom';
import { useRig } from '../../drafts/useDocs';
import { PlaceHint } from '../../documents/PlaceHint';
import { DocumentHead } from '../../documents/DocumentHead';
import { BenchRoom } from './BenchRoom';
import { ReplayRoom } from './ReplayRoom';
import { RoutesRoom } from './RoutesRoom';
import { TraceRoom } from './TraceRoom';

const ROOMS = [
  { room: '', text: 'Routes' },
  { room: 'bench', text: 'Bench' },
  { room: 'trace', text: 'Trace' },
  { room: 'replay', text: 'Replay' },
] as const;

/** What happens to a message on its way; and where it went, or where it was lost. */
export function RoutesPlace() {
  const { rig } = useRig();
  const { room = '' } = useParams();
  if (!rig) return null;
  const open = ROOMS.find((r) => r.room === room)?.room ?? '';
  const on = rig.routing.routes.filter((r) => r.isOn).length;
  return (
    <div className="work-pad routes-place">
      <DocumentHead
        title="Routes"
        doc={{ resource: 'rigs', id: rig.id }}
        facts={
          <span className="muted">
            {rig.routing.routes.length === 0 ? 'none yet' : `${rig.routing.routes.length}, ${on} on`}
          </span>
        }
      />
      <PlaceHint place="routes" />
      <nav className="tabs rooms" aria-label="Rooms of Routes">
        {ROOMS.map((r) => (
          <NavLink
            key={r.room}
            end
            to={`/routes${r.room ? `/${r.room}` : ''}`}
            className={r.room === open ? 'on' : ''}
          >
            {r.text}
          </NavLink>
        ))}
      </nav>
      {open === 'bench' ? (
        <BenchRoom rig={rig} />
      ) : open === 'trace' ? (
        <TraceRoom rig={rig} />
      ) : open === 'replay' ? (
        <ReplayRoom rig={rig} />
      ) : (
        <RoutesRoom rig={rig} />
      )}
    </div>
  );
}
