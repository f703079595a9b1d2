import {
  assignmentInForce,
  assumedValue,
  type Command,
  type LiveState,
  type World,
} from '@idle-step/core/engine';
import { movedBy, placeForValue, relativeByte, relativeRange } from '@idle-step/core/floor';
import { bounces, pedalBytes, switchBytes, tremble } from '@idle-step/core/standins';
import type { LiveClock } from '../clock';
import { there } from '@idle-step/core/sure';

/** What of the host a board on the screen needs. */
type Host = {
  world(): World;
  state(): LiveState;
  command(command: Command): void;
  /** Bytes that a board on the screen sends arrive at a port. */
  arrive(portId: string, bytes: readonly number[]): void;
  noWay(deviceId: string): void;
  /** Nothing tells where the function of a control stands, so that it moves nothing. */
  unknown(controlId: string, functionId: string): void;
};

/** Boards under a finger, the mouse or the keys: what their hardware would send. */
export class BoardInput {
  constructor(
    private readonly host: Host,
    private readonly clock: LiveClock,
  ) {}

  /** @param velocity 1–127, how hard it is struck. */
  pressSwitch(controlId: string, down: boolean, velocity = 127): void {
    const control = this.controlOf(controlId);
    if (!control) return;
    const { switching, edge } = control.hardware;
    // Hardware that tells one of its movements only says nothing at the other.
    if (switching === 'latching' || edge !== 'both') {
      if (down === (edge === 'up')) return;
      const next = switching === 'latching' ? !this.host.state().latched[controlId] : true;
      this.say(controlId, {
        bytes: (channel) => switchBytes(channel, control.sends, next, velocity),
        command: { kind: 'switch', controlId, velocity: next ? velocity : 0 },
      });
      return;
    }
    // Contacts that bounce do so on the screen too, so that waiting them out can be tried at home.
    for (const { afterMs, isDown } of bounces(down, control.hardware.debounceMs)) {
      const say = () =>
        this.say(controlId, {
          bytes: (channel) => switchBytes(channel, control.sends, isDown, velocity),
          command: { kind: 'switch', controlId, velocity: isDown ? velocity : 0 },
        });
      if (afterMs === 0) say();
      else this.clock.after(afterMs, say);
    }
  }

  /** `position` 0–127 of its travel, or how it follows from where the pedal is at this moment. */
  movePedal(controlId: string, to: number | ((at: number) => number)): void {
    const control = this.controlOf(controlId);
    if (!control) return;
    const at = this.placeOf(controlId);
    if (at === null && typeof to !== 'number') return;
    const wanted = Math.round(Math.min(127, Math.max(0, typeof to === 'number' ? to : to(at ?? 0))));
    if (control.hardware.encoding !== 'absolute') {
      this.turnEncoder(controlId, Math.sign(wanted - (at ?? 0)));
      return;
    }
    // The stand-in stands where a worn pedal would, so that its real ends are heard.
    const { heel, toe } = control.hardware;
    const stands = heel + ((toe - heel) * wanted) / 127;
    for (const raw of tremble(stands, control.hardware))
      this.say(controlId, {
        bytes: (channel) => pedalBytes(channel, control.sends, raw),
        command: { kind: 'move', controlId, travel: wanted },
      });
  }

  /** An encoder is turned by some detents, to the right above 0. */
  turnEncoder(controlId: string, detents: number): void {
    const control = this.controlOf(controlId);
    if (!control || detents === 0) return;
    const { encoding } = control.hardware;
    if (encoding === 'absolute') {
      this.movePedal(controlId, (at) => at + detents);
      return;
    }
    const { least, most } = relativeRange(encoding);
    const byte = relativeByte(encoding, Math.min(most, Math.max(least, detents)));
    this.say(controlId, {
      bytes: (channel) => pedalBytes(channel, control.sends, byte),
      command: { kind: 'turn', controlId, detents },
    });
  }

  /**
   * Where a control of the screen stands: where it was moved last, else where its function stands, so that it does not jump
   * at the first touch. `null` where nobody knows that, which is said.
   */
  private placeOf(controlId: string): number | null {
    const { world, state } = { world: this.host.world(), state: this.host.state() };
    const moved = state.pedals[controlId];
    const entry = world.controls.get(controlId);
    if (moved !== undefined || !entry) return moved ?? 0;
    const board = there(world.boards[entry.boardIndex]);
    const sweep = assignmentInForce(world, board, state, controlId)?.sweeps[0];
    if (!sweep || entry.control.hardware.encoding !== 'absolute') return 0;
    const value = assumedValue(world, state, movedBy(sweep));
    if (value !== undefined) return placeForValue(sweep, value);
    // A pedal is put somewhere by a foot; a knob is turned on from where it stands.
    if (entry.control.kind !== 'knob') return 0;
    this.host.unknown(controlId, movedBy(sweep));
    return null;
  }

  private controlOf(controlId: string) {
    return this.host.world().controls.get(controlId)?.control;
  }

  /** As bytes by the board's cable, or, where there is no hardware or this application is not in its way, as a command. */
  private say(controlId: string, said: { bytes(channel: number): number[]; command: Command }): void {
    const world = this.host.world();
    const entry = world.controls.get(controlId);
    if (!entry) return;
    const { board, device, path } = there(world.boards[entry.boardIndex]);
    if (board.isOnScreen || board.mode === 'standalone') {
      this.host.command(said.command);
      return;
    }
    if (!path) {
      this.host.noWay(device.id);
      return;
    }
    const bytes = said.bytes(entry.control.channel ?? device.channel);
    if (bytes.length > 0) this.host.arrive(path.portId, bytes);
  }
}
