import type { FullRig } from '@idle-step/core/routing';
import { useEffect, useRef } from 'react';
import { Corners } from '../../ui/Corners';
import { TapeMark } from '../../ui/TapeMark';

type Props = { rig: FullRig; deviceId: string; wanted: string; onPick(deviceId: string): void };

/** The devices side by side without their cables, where the map is folded: room for what is written of one. */
export function DeviceStrip({ rig, deviceId, wanted, onPick }: Props) {
  const inHand = useRef<HTMLButtonElement>(null);
  useEffect(() => inHand.current?.scrollIntoView({ block: 'nearest', inline: 'nearest' }), [deviceId]);
  return (
    <section className="device-strip" aria-label="Devices">
      {rig.devices.map((device) => {
        const isPicked = device.id === deviceId;
        const isDim = wanted !== '' && !device.name.toLowerCase().includes(wanted.toLowerCase());
        return (
          <button
            key={device.id}
            ref={isPicked ? inHand : undefined}
            type="button"
            className={`device-chip ${isPicked ? 'framed' : ''} ${device.away ? 'away' : ''} ${isDim ? 'dim' : ''}`}
            aria-pressed={isPicked}
            onClick={() => onPick(device.id)}
          >
            {isPicked && <Corners />}
            <TapeMark mark={device.mark} size={14} />
            <span className="device-name">{device.name}</span>
            {device.role !== 'carrier' && <span className="num muted">ch {device.channel + 1}</span>}
          </button>
        );
      })}
    </section>
  );
}
