import { drivenBy, type Effect, type World } from '@idle-step/core/engine';
import { readFunction, type Device } from '@idle-step/core/gear';
import type { Message } from '@idle-step/core/midi';
import {
  hearStandIn,
  movedInTime,
  readStandIn,
  startStandIn,
  type StandInState,
} from '@idle-step/core/standins';
import type { LiveClock } from '../clock';
import { passesHandsOff } from './handsOff';
import type { MidiPorts } from './midiPorts';
import type { MonitorLog } from '../log/monitorLog';
import type { PortTraffic } from './portTraffic';
import type { SentLine } from '../witness';

/** A report that comes later than this after its function was told is a change of its own, in ms. */
const REPORT_WITHIN_MS = 2000;

/** Sends messages to the bound port and to every stand-in behind it, and writes them into the log. */
export class Outbox {
  readonly standIns = new Map<string, StandInState>();
  /** Nothing is sent to real ports, but what ends something; stand-ins go on. */
  isHandsOff = false;
  /** What each function was told last, and when: a report soon after is compared with it. */
  private readonly told = new Map<string, { value: number; atMs: number }>();

  constructor(
    private readonly clock: LiveClock,
    private readonly log: MonitorLog,
    private readonly traffic: PortTraffic,
    private readonly ports: Pick<MidiPorts, 'send'>,
    private readonly tell: (line: SentLine) => void,
    /** What a stand-in answers goes back by its cables. */
    private readonly answer: (device: Device, reply: Message) => void,
  ) {}

  /** Keeps one stand-in for each device that has one; those that stay go on as they are. */
  standInsOf(world: World): void {
    for (const id of this.standIns.keys()) if (!world.ways.has(id)) this.standIns.delete(id);
    for (const device of world.show.rig.devices) {
      const running = this.standIns.get(device.id);
      if (device.standIn && running?.kind !== device.standIn)
        this.standIns.set(device.id, startStandIn(device.standIn));
      if (!device.standIn) this.standIns.delete(device.id);
    }
  }

  /** The stand-ins by device, on a clock that shows 0 at a time of this one. */
  kept(nowMs: number): Record<string, StandInState> {
    return Object.fromEntries([...this.standIns].map(([id, s]) => [id, movedInTime(s, -nowMs)]));
  }

  /** Stand-ins that were kept go on where they were, as gear does that was not switched off. */
  bringBack(kept: Readonly<Record<string, unknown>>, sinceMs: number): void {
    for (const [id, running] of this.standIns) {
      const standIn = Object.hasOwn(kept, id) ? readStandIn(kept[id]) : null;
      if (standIn?.kind === running.kind) this.standIns.set(id, movedInTime(standIn, sinceMs));
    }
  }

  /**
   * @param fromMs what leaves later than this is handed over with its time as its stamp.
   * @param isTakenToo something else than a port or a stand-in of a receiver takes it.
   * @returns whether a real port or a stand-in took it.
   */
  send(
    world: World,
    { portId, message, functionId, dueMs, atMs: leavesMs }: Effect & { kind: 'send' },
    atMs: number,
    fromMs: number,
    isTakenToo = false,
  ): boolean {
    const stampMs = leavesMs > fromMs ? this.clock.toPort(leavesMs) : null;
    const real = (!this.isHandsOff || passesHandsOff(message)) && this.ports.send(portId, message, stampMs);
    let taken = real || isTakenToo;
    for (const device of world.devicesBehind.get(portId) ?? []) {
      const standIn = this.standIns.get(device.id);
      if (!standIn) continue;
      taken = true;
      const heard = hearStandIn(standIn, message, device.channel, Math.max(atMs, leavesMs));
      this.standIns.set(device.id, heard.standIn);
      for (const reply of heard.replies) this.answer(device, reply);
    }
    const now = this.clock.now();
    const lateMs = Math.max(0, now - dueMs);
    this.tell({ portId, message, lateMs, isTaken: taken });
    const sequence = this.traffic.take('out', portId, message, now);
    const known = functionId ?? drivenBy(world, portId, message, sequence)?.reached.fn.id ?? null;
    const reached = known === null ? undefined : world.functions.get(known);
    const value = reached ? readFunction(reached.device, reached.fn, message, sequence) : null;
    if (known !== null && value !== null) this.told.set(known, { value, atMs: now });
    this.log.add({
      kind: 'out',
      atMs,
      wallMs: this.clock.wallMs(),
      portId,
      rig: world.show.rig,
      device: reached?.device ?? world.devicesBehind.get(portId)?.[0] ?? null,
      fn: reached?.fn ?? null,
      controlName: '',
      message,
      sequence,
      real,
      taken,
      expected: null,
      lateMs,
    });
    return taken;
  }

  /** What a function was told just before, once; `null` when it was not. */
  toldJustNow(functionId: string): number | null {
    const told = this.told.get(functionId);
    this.told.delete(functionId);
    return told && this.clock.now() - told.atMs <= REPORT_WITHIN_MS ? told.value : null;
  }
}
