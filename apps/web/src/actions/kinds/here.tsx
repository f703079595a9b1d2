import { AudioLines } from 'lucide-react';
import { Pick } from '../../ui/Fields';
import type { ActionEntry, Fields } from '../entry';

const NAMES = { click: 'Click', blackout: 'Blackout', 'hands-off': 'Hands off' } as const;

const MEANINGS = {
  click: 'Heard from this computer at each beat of the tempo in play.',
  blackout: 'The stage view on this computer is dark; off is daylight.',
  'hands-off': 'Nothing is sent to real ports; what sounds is ended first.',
} as const;

export const HERE: ActionEntry<'here'> = {
  text: 'click, blackout, hands off',
  sign: AudioLines,
  words: ({ thing, to }) => ({ title: NAMES[thing], value: to === 'toggle' ? 'on or off' : to }),
  instead: () => 'sends nothing',
  fields: HereFields,
  begin: () => ({ kind: 'here', thing: 'click', to: 'toggle' }),
};

function HereFields({ action, onChange }: Fields<'here'>) {
  return (
    <>
      <Pick
        label="Which"
        value={action.thing}
        options={[
          { value: 'click', text: 'the click' },
          'blackout',
          { value: 'hands-off', text: 'hands off' },
        ]}
        onPick={(thing) => onChange({ ...action, thing })}
      />
      <Pick
        label="Switches it"
        value={action.to}
        options={[{ value: 'toggle', text: 'on or off' }, 'on', 'off']}
        onPick={(to) => onChange({ ...action, to })}
      />
      <p className="small muted">{MEANINGS[action.thing]}</p>
    </>
  );
}
