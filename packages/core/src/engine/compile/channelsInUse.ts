import type { Device, Path } from '../../gear';
import type { ChannelBehind } from '../world/world';

/** Gathers the channels on which something is sent, by the port at the computer through which it leaves. */
export class ChannelsInUse {
  /** Whether tails are cut, by channel, by port. */
  private readonly ports = new Map<string, Map<number, boolean>>();

  /** @param path `null` where the device cannot be reached: nothing leaves. @param channel 0–15. */
  add(path: Path | null, device: Device, channel: number): void {
    if (!path) return;
    const channels = this.ports.get(path.portId) ?? new Map<number, boolean>();
    this.ports.set(path.portId, channels);
    // Of several devices on one channel, one that is to have its tails cut is enough: panic has to silence it.
    channels.set(channel, (channels.get(channel) ?? false) || device.soundOffAtPanic);
  }

  /**
   * A channel on which a route may leave something sounding.
   * @param soundOff whether some device that hears it there has its tails cut.
   */
  addRouted(portId: string, channel: number, soundOff: boolean): void {
    const channels = this.ports.get(portId) ?? new Map<number, boolean>();
    this.ports.set(portId, channels);
    channels.set(channel, (channels.get(channel) ?? false) || soundOff);
  }

  behind(): ReadonlyMap<string, readonly ChannelBehind[]> {
    const inOrder = (channels: ReadonlyMap<number, boolean>) =>
      [...channels]
        .sort(([a], [b]) => a - b)
        .map(([channel, soundOff]): ChannelBehind => ({ channel, soundOff }));
    return new Map([...this.ports].map(([portId, channels]) => [portId, inOrder(channels)]));
  }
}
