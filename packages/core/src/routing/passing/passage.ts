import { type Message } from '../../midi';
import { type Route } from '../route';

/** A message that leaves by a port; `routeId` is `null` where no route took it. */
export type RoutedSend = {
  readonly portId: string;
  readonly message: Message;
  readonly routeId: string | null;
};

/** What one route did with a message. */
export type Passage = {
  readonly routeId: string;
  readonly message: Message;
  readonly outcome:
    | 'passed'
    /** Its gate is closed, or it stops this kind. */
    | 'gate-closed'
    | 'kind-stopped'
    /** Nothing could be made of it: a note out of range, a kind that cannot become the other. */
    | 'lost'
    /** It started or went on with a modulation. */
    | 'modulated'
    /** It went round too often, or came too often, and was stopped. */
    | 'loop';
  /** What it sent on. */
  readonly sent: readonly { readonly portId: string; readonly message: Message }[];
};

/** What the rest of the rig says about routes. */
export type RouteConditions = {
  readonly isOn: (route: Route) => boolean;
  readonly isOpen: (route: Route) => boolean;
};
