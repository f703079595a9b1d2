import { type FullRig, type Route, ROUTE_KINDS } from '@idle-step/core/routing';
import type { Result } from '@idle-step/core';
import { KIND_WORDS } from '../routeWords';

/** What every editor of a part of a route's sentence is given. */
export type PartProps = { rig: FullRig; route: Route; onChange(route: Route): void };

export const KIND_OPTIONS = ROUTE_KINDS.map((value) => ({ value, text: KIND_WORDS[value] }));
/** Channels 1 to 16, by their places 0–15. */
export const CHANNEL_OPTIONS = Array.from({ length: 16 }, (_, value) => ({ value, text: String(value + 1) }));

/** What a parser in the core read, as a field takes it. */
export const typed = <T>(read: Result<T, string>): { value: T } | { error: string } =>
  read.ok ? { value: read.value } : { error: read.error };
