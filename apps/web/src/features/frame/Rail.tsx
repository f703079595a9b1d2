import {
  Cable,
  ClipboardCheck,
  Footprints,
  ListOrdered,
  Music2,
  Spotlight,
  Waypoints,
  type LucideIcon,
} from 'lucide-react';
import { NavLink } from 'react-router-dom';

/** The places in the order in which people work. */
const PLACES: readonly { to: string; name: string; icon: LucideIcon }[] = [
  { to: '/rig', name: 'Rig', icon: Cable },
  { to: '/floor', name: 'Floor', icon: Footprints },
  { to: '/routes', name: 'Routes', icon: Waypoints },
  { to: '/songs', name: 'Songs', icon: Music2 },
  { to: '/sets', name: 'Sets', icon: ListOrdered },
  { to: '/proof', name: 'Proof', icon: ClipboardCheck },
];

export function Rail() {
  return (
    <nav className="rail" aria-label="Places">
      {PLACES.map(({ to, name, icon: Icon }) => (
        <NavLink key={to} to={to}>
          <Icon size={22} strokeWidth={1.6} aria-hidden="true" />
          <span>{name}</span>
        </NavLink>
      ))}
      <NavLink to="/stage" className="last">
        <Spotlight size={22} strokeWidth={1.6} aria-hidden="true" />
        <span>Stage</span>
      </NavLink>
    </nav>
  );
}
