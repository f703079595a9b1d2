import { PLAIN_FUNCTION, type ChartTemplate } from '../gear';
import type { Message } from '../midi';

/**
 * Simulated gear: a pure model that takes messages with their times and says what it is now.
 * It answers to its own factory chart and to the channel it is set to, whatever the rig believes about it.
 */
export type StandIn<State> = {
  readonly title: string;
  /** The chart that the gear comes with. */
  readonly chart: readonly ChartTemplate[];
  /** A second channel that it listens on, so many above its own: rows of the chart name it as their extra channel. */
  readonly extraChannel?: { readonly name: string; readonly above: number };
  readonly initial: State;
  /** @param channel 0–15, the channel that the gear listens on. */
  receive(state: State, message: Message, channel: number, atMs: number): State;
};

/** A copy of a list with one element changed. */
export const withAt = <T>(list: readonly T[], index: number, value: T): readonly T[] =>
  list.map((old, i) => (i === index ? value : old));

export const controllerRow = (
  name: string,
  controller: number,
  shape: ChartTemplate['shape'],
  settleMs = 0,
): ChartTemplate => ({
  name,
  drive: { kind: 'controller', controller },
  shape,
  ...PLAIN_FUNCTION,
  settleMs,
});

export const switchShape: ChartTemplate['shape'] = { kind: 'switch', off: 0, on: 127 };
export const rangeShape: ChartTemplate['shape'] = { kind: 'range', min: 0, max: 127, shownFrom: 0 };
