import { Name } from '@idle-step/contract';
import { TextField } from '../ui/Fields';
import { FunctionPick } from '../gear/FunctionPick';
import type { Fields } from './fields';

/** A function that goes on while the others that name the same circle go off. */
export function OneOfFields({ action, onChange }: Fields<'one-of'>) {
  return (
    <>
      <FunctionPick
        functionId={action.functionId}
        accepts={(fn) => fn.shape.kind === 'switch'}
        onPick={(fn) => onChange({ ...action, functionId: fn.id })}
      />
      <TextField
        label="The others say the same name"
        value={action.circle}
        schema={Name}
        onCommit={(circle) => onChange({ ...action, circle })}
      />
    </>
  );
}
