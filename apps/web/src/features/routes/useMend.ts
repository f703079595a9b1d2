import type { FullRig } from '@idle-step/core/routing';
import type { Mend } from '@idle-step/core/proof';
import { useNavigate } from 'react-router-dom';
import { useEdit } from '../../drafts/useDocs';
import { useLiveHost } from '../../live/use/useLive';
import { withDevice } from '../../edits/rigEdits';
import { withRoute } from '../../edits/routeEdits';

/** Does what a trace offers as a mend. */
export function useMend(rig: FullRig): (mend: Mend) => void {
  const edit = useEdit('rigs');
  const host = useLiveHost();
  const navigate = useNavigate();
  return (mend) => {
    switch (mend.kind) {
      case 'bank': {
        const { boardId, groupId, bankId } = mend;
        const to = { bankId };
        host.command(
          groupId === null ? { kind: 'bank', boardId, to } : { kind: 'page', boardId, groupId, to },
        );
        return;
      }
      case 'enable-port':
        edit(rig.id, 'enable a port', (r) => ({
          ...r,
          devices: r.devices.map((d) => ({
            ...d,
            ports: d.ports.map((p) => (p.id === mend.portId ? { ...p, plays: true } : p)),
          })),
        }));
        return;
      case 'route':
        if (mend.part === 'route')
          edit(rig.id, 'switch a route on', (r) =>
            withRoute(r, mend.routeId, (route) => ({ ...route, isOn: true })),
          );
        host.command({ kind: 'route', routeId: mend.routeId, part: mend.part, to: 'on' });
        return;
      case 'setting':
        edit(rig.id, 'change a setting', (r) =>
          withDevice(r, mend.deviceId, (d) => ({
            ...d,
            setting: d.setting && { ...d.setting, inForce: mend.option },
          })),
        );
        return;
      case 'set':
        host.command({ kind: 'set', functionId: mend.functionId, value: mend.value });
        return;
      case 'unpack':
        edit(rig.id, 'unpack a device', (r) => withDevice(r, mend.deviceId, (d) => ({ ...d, away: false })));
        return;
      case 'look':
        void navigate(
          {
            rig: mend.id ? `/rig/${mend.id}` : '/rig',
            ports: mend.id ? `/rig/${mend.id}/ports` : '/rig',
            floor: '/floor',
            routes: '/routes',
            songs: '/songs',
          }[mend.place],
        );
    }
  };
}
