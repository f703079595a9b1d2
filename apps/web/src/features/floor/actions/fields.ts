import type { ActionDoc } from '@idle-step/contract';

/** What the fields of one kind of action are given. */
export type Fields<K extends ActionDoc['kind']> = {
  action: ActionDoc & { kind: K };
  onChange(action: ActionDoc): void;
};
