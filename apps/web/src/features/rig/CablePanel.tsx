import { type FullRig, portName } from '@idle-step/core/routing';

import { type RigPath, LINK_WORDS } from '@idle-step/core/gear';
import { Trash2 } from 'lucide-react';
import { Button } from 'react-bootstrap';
import { useEdit } from '../../drafts/useDocs';
import { PathList } from './PathList';

/** One cable: its ends, and every way that leads through it. */
export function CablePanel({
  rig,
  cable,
  paths,
  onGone,
}: {
  rig: FullRig;
  cable: FullRig['cables'][number];
  paths: readonly RigPath[];
  onGone(): void;
}) {
  const edit = useEdit('rigs');
  const port = rig.devices.flatMap((d) => d.ports).find((p) => p.id === cable.fromPortId);
  const remove = () => {
    edit(rig.id, 'take out a cable', (r) => ({ ...r, cables: r.cables.filter((c) => c.id !== cable.id) }));
    onGone();
  };
  return (
    <section className="detail" aria-label="Cable">
      <div className="place-head">
        <h2>
          {portName(rig, cable.fromPortId)} → {portName(rig, cable.toPortId)}
        </h2>
        <span className="muted">{port ? LINK_WORDS[port.link] : ''} cable</span>
        <span className="gap" />
        <Button variant="quiet" onClick={remove}>
          <Trash2 size={16} strokeWidth={1.75} aria-hidden="true" />
          Take out
        </Button>
      </div>
      <PathList paths={paths} name="this cable" />
    </section>
  );
}
