import { PLAIN_TIMING, type Assignment, type GestureWants, type Lamp } from '../../floor';
import type { Effect, LiveNote } from '../state/events';
import { assumedValue, valueOf } from '../state/known';
import type { LampCauses } from '../lamps/causes';
import { copied, type LiveState } from '../state/liveState';
import { assignmentInForce, wantsInForce } from '../world/place';
import type { World, WorldBoard } from '../world/world';

/** Of a control that nothing is assigned to. */
const NO_GESTURES: GestureWants = { ...PLAIN_TIMING, hold: false, doublePress: false };

/** Never written into: a step makes its own first. */
const NO_LAMPS: Record<string, Lamp> = Object.freeze({});
const NO_REGISTERS: Record<string, number | null> = Object.freeze({});

/**
 * One step in the making: the state being written, the moment that is being worked through, and the effects so far.
 * Every record of the state is copied before its first change, so the state that came in is never touched.
 */
export class Live {
  readonly state: ReturnType<typeof copied>;
  readonly effects: Effect[] = [];
  /** Every lamp is told again, changed or not: after a recall, a bank change and a reconnection. */
  tellsLamps = false;
  /** What lamps follow, as it was when they were looked at last; `null` where they have to be looked at anyway. */
  lampsSeen: LampCauses | null;
  /** The record of registers that this step has made, and may write into until lamps have looked at it. */
  registersOwn: Record<string, number | null> = NO_REGISTERS;
  /** The record of lamps that this step has made, and may write into. */
  lampsOwn: Record<string, Lamp> = NO_LAMPS;
  /** The tempo before this step. */
  bpmBefore: number;
  /** The moment that is being worked through, never falling. */
  nowMs: number;
  /** The time of what is handed over ahead of it. */
  handedForMs = -Infinity;

  /** @param lateUntilMs the earliest moment at which anything can leave, in ms: what was due earlier leaves then. */
  constructor(
    readonly world: World,
    before: LiveState,
    readonly lateUntilMs = -Infinity,
  ) {
    this.state = copied(before);
    this.lampsSeen = before;
    this.bpmBefore = before.tempo.bpm;
    this.nowMs = before.atMs;
  }

  /** When what is sent at this moment really leaves. */
  get leavesMs(): number {
    return Math.max(this.dueMs, this.lateUntilMs);
  }

  /** When what is sent at this moment is to leave. */
  get dueMs(): number {
    return Math.max(this.nowMs, this.handedForMs);
  }

  /** What lamps follow is taken as looked at. */
  rememberLamps(): void {
    const { registers, pending, position, banks, pages, ramps, clocks, line, latched, evens, held } =
      this.state;
    const { routes, run, here } = this.state;
    // What is written from now on is another record, so that the lamps see that it has changed.
    this.registersOwn = NO_REGISTERS;
    this.lampsSeen = {
      registers,
      pending,
      position,
      banks,
      pages,
      ramps,
      clocks,
      line,
      latched,
      evens,
      held,
      routes,
      run,
      here,
    };
  }

  note(note: LiveNote): void {
    this.effects.push({ kind: 'note', note });
  }

  /** What a function stands at, or `undefined` where that is not known. */
  value(functionId: string): number | undefined {
    return valueOf(this.world, this.state, functionId);
  }

  /** The same, and until its device was told anything of it what the chart says of power-on. */
  assumed(functionId: string): number | undefined {
    return assumedValue(this.world, this.state, functionId);
  }

  assignmentOf(board: WorldBoard, controlId: string): Assignment | undefined {
    return assignmentInForce(this.world, board, this.state, controlId);
  }

  /** What the gestures of a control look out for in the page in force. */
  wantsOf(board: WorldBoard, controlId: string): GestureWants {
    return wantsInForce(this.world, board, this.state, controlId) ?? NO_GESTURES;
  }
}
