import type { StdioOptions } from 'node:child_process';

/** Whether what was built is as new as its sources. */
export function isBuilt(): boolean;
/** Builds the page and the server, each beside its place. */
export function startBuild(
  stdio: StdioOptions,
  root?: string,
): { readonly done: Promise<void>; stop(): Promise<void> };
