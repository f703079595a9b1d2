import { ACTIONS } from '@idle-step/core/engine';
import { expect, it } from 'vitest';
import { ActionSchema } from './preset';

it('every kind of action has a schema, and no other', () =>
  expect(ActionSchema.options.flatMap((o) => [...o.shape.kind.values]).sort()).toEqual(
    Object.keys(ACTIONS).sort(),
  ));
