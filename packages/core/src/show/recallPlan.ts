import { messagesFor, type ChartFunction, type Device, type Path } from '../gear';
import { byteLength, wireTimeMs, type Message } from '../midi';

/** A function with its device and the way to it; `path` is `null` when nothing leads there. */
export type Reached = { readonly device: Device; readonly fn: ChartFunction; readonly path: Path | null };

export type RecallTarget = { readonly reached: Reached; readonly value: number };

/** What is known of the rig when a plan is made. Times in ms on the caller's clock. */
export type RigKnowledge = {
  readonly nowMs: number;
  /** What a function was last told or reported, or `undefined`. */
  known(functionId: string): number | undefined;
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
 * Source: settle rule common practice, no source; wire time MIDI 1.0 Detailed Specification (from memory).
 */
export function planRecall(
  targets: readonly RecallTarget[],
  knowledge: RigKnowledge,
  mode: 'changes' | 'all',
): RecallPlan {
  const waiting = queuesByDevice(wantedTargets(targets, knowledge, mode));
  const portFree = new Map<string, number>();
  const listens = new Map<string, number>();
  const reloaded = new Set<string>();
  const sends: PlannedSend[] = [];
  const unreached: RecallTarget[] = [];
  const listensAt = (deviceId: string): number => {
    let atMs = listens.get(deviceId);
    if (atMs === undefined) listens.set(deviceId, (atMs = knowledge.listensFromMs(deviceId)));
    return Math.max(knowledge.nowMs, atMs);
  };
  for (let target = nextOf(waiting, listensAt); target; target = nextOf(waiting, listensAt)) {
    const { device, fn, path } = target.reached;
    if (!path) {
      unreached.push(target);
      continue;
    }
    const atMs = listensAt(device.id);
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
    });
    portFree.set(path.portId, leftAtMs);
    if (fn.settleMs > 0) listens.set(device.id, landsAtMs + fn.settleMs);
    if (fn.drive.kind === 'program') reloaded.add(device.id);
  }
  let settledAtMs = knowledge.nowMs;
  for (const send of sends) settledAtMs = Math.max(settledAtMs, send.landsAtMs);
  for (const at of listens.values()) settledAtMs = Math.max(settledAtMs, at);
  return { sends, unreached, settledAtMs, reloaded };
}

/** What has to be sent, programs before the rest and otherwise in the order given. */
function wantedTargets(
  targets: readonly RecallTarget[],
  knowledge: RigKnowledge,
  mode: 'changes' | 'all',
): RecallTarget[] {
  const differs = ({ reached: { fn }, value }: RecallTarget) =>
    mode === 'all' || fn.shape.kind === 'trigger' || knowledge.known(fn.id) !== value;
  const programs = targets.filter((t) => t.reached.fn.drive.kind === 'program' && differs(t));
  const reloading = new Set(programs.map((t) => t.reached.device.id));
  const rest = targets.filter(
    (t) => t.reached.fn.drive.kind !== 'program' && (reloading.has(t.reached.device.id) || differs(t)),
  );
  return [...programs, ...rest];
}

/** What one device is to be told, in order; `place` is where each stood among all. */
type Queue = {
  readonly deviceId: string;
  readonly targets: readonly { readonly place: number; readonly target: RecallTarget }[];
  done: number;
};

function queuesByDevice(targets: readonly RecallTarget[]): Queue[] {
  const queues = new Map<string, { deviceId: string; targets: Queue['targets'][number][]; done: number }>();
  targets.forEach((target, place) => {
    const deviceId = target.reached.device.id;
    const queue = queues.get(deviceId) ?? { deviceId, targets: [], done: 0 };
    queue.targets.push({ place, target });
    queues.set(deviceId, queue);
  });
  return [...queues.values()];
}

/** Takes the target whose device listens first; the order given decides between equals. */
function nextOf(queues: readonly Queue[], listensAt: (deviceId: string) => number): RecallTarget | null {
  let best: Queue | null = null;
  let bestAt = Infinity;
  for (const queue of queues) {
    const first = queue.targets[queue.done];
    if (!first) continue;
    const at = listensAt(queue.deviceId);
    if (at < bestAt || (at === bestAt && first.place < best!.targets[best!.done]!.place))
      [best, bestAt] = [queue, at];
  }
  return best ? best.targets[best.done++]!.target : null;
}

const byteCount = (messages: readonly Message[]): number => messages.reduce((n, m) => n + byteLength(m), 0);
