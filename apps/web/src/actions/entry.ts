import type { World } from '@idle-step/core/engine';
import type { Action, ActionKind, LooseAction } from '@idle-step/core/floor';
import type { ChartFunction } from '@idle-step/core/gear';
import type { Song } from '@idle-step/core/show';
import type { LucideIcon } from 'lucide-react';
import type { ReactNode } from 'react';

/** Where an action stands: at a control of a board, or in a cue of a song. */
export type ActionHome =
  { readonly kind: 'board'; readonly boardIndex: number } | { readonly kind: 'cue'; readonly song: Song };

/** What the fields of one kind of action are given. */
export type Fields<K extends ActionKind = ActionKind> = {
  action: Action & { kind: K };
  world: World;
  home: ActionHome;
  onChange(action: Action): void;
};

/** What an action is, in words. */
export type ActionWords = { readonly title: string; readonly value: string };

/** What a new action of some kind can begin with; it keeps what the one before it was about. */
export type Beginning = {
  readonly world: World;
  readonly boardIndex: number;
  /** The function that it was about where that will do, else one of its device, else any; `null` for none. */
  function(accepts: (fn: ChartFunction) => boolean): ChartFunction | null;
  /** A device that can be told something. */
  readonly deviceId: string | undefined;
  /** The device that it was about. */
  readonly deviceNow: string | undefined;
  /** A port at the computer by which something can be sent. */
  readonly portId: string | undefined;
};

/** All that one kind of action is on the page. */
export type ActionEntry<K extends ActionKind = ActionKind> = {
  /** As it is offered. */
  readonly text: string;
  /** Its sign; `null` where it has the mark of its device. */
  readonly sign: LucideIcon | null;
  words(action: Action & { kind: K }, world: World): ActionWords;
  /** What is said in place of its bytes; `null` where the bytes are shown that it sends. */
  instead(action: Action & { kind: K }): string | null;
  fields(props: Fields<K>): ReactNode;
  /** `null` when the rig has nothing for it. */
  begin(at: Beginning): (LooseAction & { kind: K }) | null;
};
