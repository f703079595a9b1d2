import { dumpBytes } from '@idle-step/core/transfer';
import { toBase64 } from '../files/base64';
import type { LiveHost } from '../live/LiveHost';
import { dayOf, timeOfDay } from '../words/times';
import type { RecordKeeper } from './recordKeeper';

/** Keeps every dump that came from a device, under its name and the time. */
export function keepDumps(host: LiveHost, keeper: RecordKeeper): void {
  host.dumps.onEnd = ({ purpose, deviceId, job }) => {
    if (purpose !== 'dump' || job.kind === 'send' || job.end !== 'done' || job.size === 0) return;
    const { rig } = host.now().world.show;
    const device = rig.devices.find((d) => d.id === deviceId);
    const at = new Date().toISOString();
    keeper.keep({
      id: crypto.randomUUID(),
      rigId: rig.id,
      aboutId: deviceId,
      at,
      what: {
        kind: 'dump',
        name: `${device?.name ?? 'Dump'}, ${dayOf(at)} ${timeOfDay(at)}`.slice(0, 80),
        remark: '',
        bytes: toBase64(dumpBytes(job)),
      },
    });
  };
}
