import { type ActionListName } from '../../floor';
import { type Message } from '../../midi';
import { type Hop, type Loss, type TraceWay } from './hops';
/** What is traced: a gesture on a control, the sweep of a pedal or knob (0–127), or a message that arrives. */
export type TraceStart =
  | { readonly kind: 'gesture'; readonly controlId: string; readonly gesture: ActionListName }
  | { readonly kind: 'sweep'; readonly controlId: string; readonly travel: number }
  | { readonly kind: 'message'; readonly portId: string; readonly message: Message };

/** A press through the rig: what all its ways have in common, and each of them. */
export type Trace = {
  readonly stem: readonly Hop[];
  /** Lost before it could part. */
  readonly loss: Loss | null;
  readonly ways: readonly TraceWay[];
};
