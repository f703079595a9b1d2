import type { Action } from '../../floor';
import type { Live } from '../live/live';
import { panic } from './panic';
import { noMessage } from './sentRow';
import { GOES_NOWHERE, lit, type ActionTraits } from './traits';

/** Switches something of this computer. Hands off first ends everything that sounds. */
export function switchHere(live: Live, { thing, to }: Pick<Action & { kind: 'here' }, 'thing' | 'to'>): void {
  const was = live.state.here[thing];
  const isOn = to === 'toggle' ? !was : to === 'on';
  if (isOn === was) return;
  if (thing === 'hands-off' && isOn) panic(live);
  live.state.here = { ...live.state.here, [thing]: isOn };
  // What the boards' own lamps were not told meanwhile.
  if (thing === 'hands-off' && !isOn) live.tellsLamps = true;
}

const NAMES = { click: 'Click', blackout: 'Blackout', 'hands-off': 'Hands off' } as const;

const said = ({ thing, to }: Action & { kind: 'here' }): string =>
  `${NAMES[thing].toLowerCase()} ${to === 'toggle' ? 'on or off' : to}`;

export const HERE: ActionTraits<'here'> = {
  ...GOES_NOWHERE,
  act: switchHere,
  isOwn: false,
  label: ({ thing, to }) => (to === 'toggle' ? NAMES[thing] : `${NAMES[thing]} ${to}`),
  deed: said,
  row: (action) => noMessage(`switches ${said(action)}`),
  byBoard: () => 'host',
  light: ({ state }, { thing, to }) => lit(state.here[thing] === (to !== 'off')),
  follows: () => 'here',
  isInCues: true,
  leadsAway: false,
  stands: (_world, { here }, { thing, to }, other) =>
    thing !== other.thing || to === 'toggle' || other.to === 'toggle' || to === other.to
      ? null
      : here[thing] === (to === 'on'),
};
