import {
  loadsProgram,
  messagesFor,
  registersOf,
  writesOf,
  type ChartFunction,
  type Device,
  type Path,
  type RegisterWrite,
} from '../gear';
import { byteLength, wireTimeMs, type Message } from '../midi';
import { nth, there } from '../sure';

/** A function with its device and the way to it; `path` is `null` when nothing leads there. */
export type Reached = { readonly device: Device; readonly fn: ChartFunction; readonly path: Path | null };

export type RecallTarget = { readonly reached: Reached; readonly value: number };

/** What is known of the rig when a plan is made. Times in ms on the caller's clock. */
export type RigKnowledge = {
  readonly nowMs: number;
  /** Whether the registers of a function hold what setting it to a value would write, as far as is known. */
  stands(reached: Reached, value: number): boolean;
  /** When a device that is settling listens again; the past or 0 when it listens now. */
  listensFromMs(deviceId: string): number;
  /** When the bytes already on their way through a port have left it. */
  portFreeFromMs(portId: string): number;
};

export type PlannedSend = {
  /** When it is handed to the port. */
  readonly atMs: number;
  /** When its last byte has arrived, with the estimated delay of the links on the way. */
  readonly landsAtMs: number;
  readonly latencyMs: number;
  /** How long its bytes take on the link. */
  readonly wireMs: number;
  readonly portId: string;
  readonly deviceId: string;
  readonly functionId: string;
  readonly value: number;
  readonly messages: readonly Message[];
  /** What it writes into its device. */
  readonly writes: readonly RegisterWrite[];
  /** Whether its device loads a program with it. */
  readonly loads: boolean;
};

export type RecallPlan = {
  readonly sends: readonly PlannedSend[];
  /** Targets that nothing leads to. */
  readonly unreached: readonly RecallTarget[];
  /** When the last device listens again, at the earliest `nowMs`. */
  readonly settledAtMs: number;
  /** Devices whose program changes: whatever else was known or still waiting for them no longer holds. */
  readonly reloaded: ReadonlySet<string>;
};

/**
 * The exact timed messages that bring the rig from what it is to what is wanted.
 *
 * With `changes` only what differs from what is known is sent; with `all` everything. Programs go first on each
 * device; a device is deaf while it settles, so the rest waits for it; after a program change everything wanted of
 * that device is sent, since loading a program moves its other functions. Ports send side by side, each one byte
 * after the other at its link's speed. Triggers are always sent.
 * Source: settle rule common practice, no source; wire time MIDI 1.0 Detailed Specification.
 */
export function planRecall(
  targets: readonly RecallTarget[],
  knowledge: RigKnowledge,
  mode: 'changes' | 'all',
): RecallPlan {
  const queues = queuesByDevice(wantedTargets(targets, knowledge, mode), knowledge);
  const portFree = new Map<string, number>();
  let reloaded: Set<string> | null = null;
  const sends: PlannedSend[] = [];
  const unreached: RecallTarget[] = [];
  let settledAtMs = knowledge.nowMs;
  for (let queue = nextOf(queues); queue; queue = nextOf(queues)) {
    const target = nth(queue.targets, queue.done);
    queue.done += 1;
    const { device, fn, path } = target.reached;
    if (!path) {
      unreached.push(target);
      continue;
    }
    const atMs = queue.listensFromMs;
    const freeAt = portFree.get(path.portId) ?? knowledge.portFreeFromMs(path.portId);
    const { value } = target;
    const messages = messagesFor(device, fn, value);
    const wireMs = wireTimeMs(byteCount(messages), path.link);
    const leftAtMs = Math.max(atMs, freeAt) + wireMs;
    const landsAtMs = leftAtMs + path.latencyMs;
    sends.push({
      atMs,
      landsAtMs,
      latencyMs: path.latencyMs,
      wireMs,
      portId: path.portId,
      deviceId: device.id,
      functionId: fn.id,
      value,
      messages,
      writes: writesOf(device, fn, value),
      loads: loadsProgram(fn),
    });
    portFree.set(path.portId, leftAtMs);
    settledAtMs = Math.max(settledAtMs, landsAtMs);
    if (fn.settleMs > 0) queue.listensFromMs = landsAtMs + fn.settleMs;
    if (loadsProgram(fn)) (reloaded ??= new Set()).add(device.id);
  }
  for (const { listensFromMs } of queues) settledAtMs = Math.max(settledAtMs, listensFromMs);
  return { sends, unreached, settledAtMs, reloaded: reloaded ?? NONE };
}

const NONE: ReadonlySet<string> = new Set();

/** Tracks are armed before others let go, so that there is no moment without sound. */
export function armedFirst(targets: readonly RecallTarget[]): readonly RecallTarget[] {
  const letsGo = ({ reached, value }: RecallTarget) => reached.fn.arms !== null && value === 0;
  return targets.some(letsGo) ? [...targets.filter((t) => !letsGo(t)), ...targets.filter(letsGo)] : targets;
}

/** What has to be sent, programs before the rest and otherwise in the order given. */
function wantedTargets(
  targets: readonly RecallTarget[],
  knowledge: RigKnowledge,
  mode: 'changes' | 'all',
): RecallTarget[] {
  const wanted: RecallTarget[] = [];
  let reloading: Set<string> | null = null;
  let told: Set<string> | null = null;
  const want = (target: RecallTarget): void => {
    wanted.push(target);
    const { device, fn } = target.reached;
    const { touches, reads } = registersOf(device, fn);
    // It also writes registers of other rows: a target that reads one of these has to be sent again.
    if (touches.length > reads.length) for (const key of touches) (told ??= new Set()).add(key);
  };
  for (const target of targets)
    if (isProgram(target) && isWanted(target, knowledge, mode)) {
      want(target);
      (reloading ??= new Set()).add(target.reached.device.id);
    }
  for (const target of targets) {
    if (isProgram(target)) continue;
    const { device, fn } = target.reached;
    const isMoved = told !== null && registersOf(device, fn).reads.some((key) => there(told).has(key));
    if (isMoved || reloading?.has(device.id) || isWanted(target, knowledge, mode)) want(target);
  }
  return wanted;
}

const isProgram = ({ reached }: RecallTarget): boolean => loadsProgram(reached.fn);

const isWanted = (
  { reached, value }: RecallTarget,
  knowledge: RigKnowledge,
  mode: 'changes' | 'all',
): boolean => mode === 'all' || reached.fn.shape.kind === 'trigger' || !knowledge.stands(reached, value);

/** What one device is to be told, in order; `places` is where each stood among all. */
type Queue = {
  readonly deviceId: string;
  readonly targets: RecallTarget[];
  readonly places: number[];
  done: number;
  listensFromMs: number;
};

function queuesByDevice(targets: readonly RecallTarget[], knowledge: RigKnowledge): readonly Queue[] {
  const queues: Queue[] = [];
  for (const [place, target] of targets.entries()) {
    const deviceId = target.reached.device.id;
    const queue = queueAt(queues, deviceId);
    if (queue) {
      queue.targets.push(target);
      queue.places.push(place);
      continue;
    }
    const listensFromMs = Math.max(knowledge.nowMs, knowledge.listensFromMs(deviceId));
    queues.push({ deviceId, targets: [target], places: [place], done: 0, listensFromMs });
  }
  return queues;
}

/** By search: devices are few, and most plans are about one. */
function queueAt(queues: readonly Queue[], deviceId: string): Queue | undefined {
  for (const queue of queues) if (queue.deviceId === deviceId) return queue;
  return undefined;
}

/** The queue whose device listens first; the order given decides between equals. */
function nextOf(queues: readonly Queue[]): Queue | null {
  let best: Queue | null = null;
  for (const queue of queues) {
    const place = queue.places[queue.done];
    if (place === undefined) continue;
    if (
      !best ||
      queue.listensFromMs < best.listensFromMs ||
      (queue.listensFromMs === best.listensFromMs && place < nth(best.places, best.done))
    )
      best = queue;
  }
  return best;
}

function byteCount(messages: readonly Message[]): number {
  let bytes = 0;
  for (const message of messages) bytes += byteLength(message);
  return bytes;
}
