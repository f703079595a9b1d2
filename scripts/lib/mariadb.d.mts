/** A running MariaDB of the project's own. */
export type RunningDatabase = {
  readonly url: string;
  readonly port: number;
  readonly pid: number;
  readonly data: string;
  stop(): Promise<void>;
};

export const DATABASE: string;
export function startMariadb(
  folder: string,
  options?: { fresh?: boolean; revive?: boolean },
): Promise<RunningDatabase>;
