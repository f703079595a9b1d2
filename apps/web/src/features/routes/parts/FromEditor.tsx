import { ManyPick } from '../ManyPick';
import { sourceOptions } from '../routePorts';

import { type PartProps } from './partFields';

/** Where a route takes from. */
export function FromEditor({ rig, route, onChange }: PartProps) {
  return (
    <ManyPick
      legend="Inputs"
      none="any input"
      options={sourceOptions(rig)}
      chosen={route.from.portIds}
      onChange={(portIds) => onChange({ ...route, from: { ...route.from, portIds } })}
    />
  );
}
