import type { Action } from '@idle-step/core/floor';
import { RawByte } from '@idle-step/contract';
import { hex, parseBytes } from '@idle-step/core/midi';
import { Pick, TypedField } from '../ui/Fields';
import { outputs } from './actionKinds';
import type { World } from '@idle-step/core/engine';

/** Bytes that are sent as they are. */
export function RawFields({
  world,
  action,
  onChange,
}: {
  world: World;
  action: Action & { kind: 'raw' };
  onChange(action: Action): void;
}) {
  return (
    <>
      <Pick
        label="To the port"
        value={action.portId}
        options={outputs(world)}
        onPick={(portId) => onChange({ ...action, portId })}
      />
      <TypedField
        label="Bytes, in hexadecimal"
        className="wide bytes"
        shown={hex(action.bytes)}
        parse={parseHex}
        onCommit={(bytes) => onChange({ ...action, bytes })}
      />
    </>
  );
}

/** Whole messages in hexadecimal, or a sentence that says what is wrong and where. */
function parseHex(text: string): { value: number[]; error?: undefined } | { error: string } {
  const words = text
    .trim()
    .split(/[\s,]+/)
    .filter(Boolean);
  const bytes: number[] = [];
  for (const [i, word] of words.entries()) {
    const byte = /^(0x)?[0-9a-f]{1,2}$/i.test(word) ? Number.parseInt(word.replace(/^0x/i, ''), 16) : NaN;
    if (!RawByte.safeParse(byte).success)
      return { error: `“${word}”, word ${i + 1}, is no byte; two digits 00 to FF like B2 would be right.` };
    bytes.push(byte);
  }
  const fault = parseBytes(bytes).faults[0];
  if (fault)
    return {
      error: `${fault.code.replace('-', ' ')} at byte ${fault.offset + 1}; whole messages like B2 16 02 would be right.`,
    };
  return { value: bytes };
}
