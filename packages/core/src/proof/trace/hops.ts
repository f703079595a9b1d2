import type { Message } from '../../midi';

/** Where a press is on its way. */
export type HopStage =
  | 'control'
  | 'gesture'
  | 'action'
  | 'message'
  | 'port'
  | 'cable'
  | 'route'
  | 'device'
  | 'function'
  | 'effect';

/** One station of a press through the rig. `atMs` counts from the press. */
export type Hop = {
  readonly stage: HopStage;
  readonly title: string;
  readonly detail: string;
  readonly atMs: number;
  readonly deviceId: string | null;
  readonly portId: string | null;
  readonly routeId: string | null;
  readonly cableIds: readonly string[];
  readonly message: Message | null;
};

export type LossReason =
  | 'port-absent'
  | 'unfed'
  | 'port-off'
  | 'away'
  | 'no-cable'
  | 'no-host'
  | 'other-bank'
  | 'nothing-assigned'
  | 'no-such-gesture'
  | 'latching'
  | 'action-off'
  | 'waits-for-pickup'
  | 'gone'
  | 'nowhere-to-go'
  | 'gate-closed'
  | 'kind-stopped'
  | 'route-off'
  | 'out-of-range'
  | 'filtered'
  | 'no-destination'
  | 'loop'
  | 'reserved'
  | 'other-mode'
  | 'value-refused'
  | 'wrong-channel'
  | 'no-function'
  | 'deaf'
  | 'not-armed'
  | 'inverted';

/** What can be pressed to mend it. `look` leads to the place where it is written down. */
export type Mend = { readonly text: string } & (
  | {
      readonly kind: 'bank';
      readonly boardId: string;
      readonly groupId: string | null;
      readonly bankId: string;
    }
  | { readonly kind: 'enable-port'; readonly portId: string }
  | { readonly kind: 'route'; readonly routeId: string; readonly part: 'route' | 'gate' }
  | { readonly kind: 'setting'; readonly deviceId: string; readonly option: string }
  | { readonly kind: 'set'; readonly functionId: string; readonly value: number }
  | { readonly kind: 'unpack'; readonly deviceId: string }
  | {
      readonly kind: 'look';
      readonly place: 'rig' | 'ports' | 'floor' | 'routes' | 'songs';
      readonly id: string | null;
    }
);

/** The hop at which it was lost, and why. */
export type Loss = {
  readonly reason: LossReason;
  readonly stage: HopStage;
  /** What is wrong, where, and what would be right. */
  readonly sentence: string;
  readonly mend: Mend | null;
};

/** One way of a press: of one action, and of one message where it sends several. */
export type TraceWay = { readonly hops: readonly Hop[]; readonly loss: Loss | null };

export const hop = (
  stage: HopStage,
  title: string,
  detail = '',
  part: Partial<Omit<Hop, 'stage' | 'title' | 'detail'>> = {},
): Hop => ({
  stage,
  title,
  detail,
  atMs: 0,
  deviceId: null,
  portId: null,
  routeId: null,
  cableIds: [],
  message: null,
  ...part,
});

export const lost = (
  stage: HopStage,
  reason: LossReason,
  sentence: string,
  mend: Mend | null = null,
): Loss => ({ stage, reason, sentence, mend });

export const lookIn = (
  place: (Mend & { readonly kind: 'look' })['place'],
  id: string | null = null,
): Mend => ({ kind: 'look', place, id, text: LOOK_WORDS[place] });

const LOOK_WORDS = {
  rig: 'Look in Rig',
  ports: 'Look at its ports',
  floor: 'Look in Floor',
  routes: 'Look in Routes',
  songs: 'Look in Songs',
} as const;
