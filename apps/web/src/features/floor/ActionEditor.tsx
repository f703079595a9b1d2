import { RawByte, type ActionDoc } from '@idle-step/contract';
import { hex, parseBytes } from '@idle-step/core/midi';
import { useLive } from '../../live/useLive';
import { NumberField, Pick, TypedField } from '../../ui/Fields';
import { whole } from '@idle-step/contract';
import { FunctionPick, ValuePick } from './FunctionPick';
import { firstValue, newAction } from './presetEdits';
import type { World } from '@idle-step/core/engine';

const KINDS: readonly { value: ActionDoc['kind']; text: string }[] = [
  { value: 'set', text: 'set a function' },
  { value: 'toggle', text: 'toggle a switch' },
  { value: 'raw', text: 'send raw bytes' },
  { value: 'scene', text: 'go to a scene' },
  { value: 'song', text: 'go to a song' },
  { value: 'bank', text: 'turn the bank' },
  { value: 'panic', text: 'panic' },
];

/** One action, opened: what it does, to what, and with which value. */
export function ActionEditor({ action, onChange }: { action: ActionDoc; onChange(action: ActionDoc): void }) {
  const { world } = useLive();
  return (
    <div className="action-editor">
      <Pick
        label="Does"
        value={action.kind}
        options={KINDS}
        onPick={(kind) => onChange(withKind(world, action, kind))}
      />
      <Details world={world} action={action} onChange={onChange} />
    </div>
  );
}

function Details({
  world,
  action,
  onChange,
}: {
  world: World;
  action: ActionDoc;
  onChange(action: ActionDoc): void;
}) {
  switch (action.kind) {
    case 'set':
      return (
        <>
          <FunctionPick
            functionId={action.functionId}
            accepts={() => true}
            onPick={(fn) => onChange({ ...action, functionId: fn.id, value: firstValue(fn) })}
          />
          <ValuePick
            functionId={action.functionId}
            value={action.value}
            onPick={(value) => onChange({ ...action, value })}
          />
        </>
      );
    case 'toggle':
      return (
        <FunctionPick
          functionId={action.functionId}
          accepts={(fn) => fn.shape.kind === 'switch'}
          onPick={(fn) => onChange({ ...action, functionId: fn.id })}
        />
      );
    case 'raw':
      return <RawFields world={world} action={action} onChange={onChange} />;
    case 'bank':
      return <BankPick world={world} action={action} onChange={onChange} />;
    case 'scene':
      return (
        <>
          <Pick
            label="Which"
            value={action.to.kind}
            options={[
              { value: 'next', text: 'the next' },
              { value: 'previous', text: 'the one before' },
              { value: 'at', text: 'by number' },
            ]}
            onPick={(kind) => onChange({ ...action, to: kind === 'at' ? { kind, index: 0 } : { kind } })}
          />
          {action.to.kind === 'at' && (
            <NumberField
              label="Scene"
              className="narrow"
              value={action.to.index}
              shownOffset={1}
              schema={whole('Scene', 0, 199)}
              onCommit={(index) => onChange({ ...action, to: { kind: 'at', index } })}
            />
          )}
        </>
      );
    case 'song':
      return (
        <Pick
          label="Which"
          value={action.to}
          options={[
            { value: 'next', text: 'the next' },
            { value: 'previous', text: 'the one before' },
          ]}
          onPick={(to) => onChange({ ...action, to })}
        />
      );
    case 'panic':
      return (
        <p className="small muted">Ends every note, lifts dampers, all sound off, on every channel in use.</p>
      );
  }
}

function RawFields({
  world,
  action,
  onChange,
}: {
  world: World;
  action: ActionDoc & { kind: 'raw' };
  onChange(action: ActionDoc): void;
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

function BankPick({
  world,
  action,
  onChange,
}: {
  world: World;
  action: ActionDoc & { kind: 'bank' };
  onChange(action: ActionDoc): void;
}) {
  const banks = world.boards.flatMap((b) =>
    b.banks.map(({ bank }) => ({ value: bank.id, text: `${b.device.name}: ${bank.name}` })),
  );
  const value = action.to.kind === 'bank' ? action.to.bankId : action.to.kind;
  return (
    <Pick
      label="To"
      value={value}
      options={[
        { value: 'up', text: 'up, round at the end' },
        { value: 'down', text: 'down, round at the end' },
        ...banks,
      ]}
      onPick={(to) =>
        onChange({
          ...action,
          to: to === 'up' || to === 'down' ? { kind: to } : { kind: 'bank', bankId: to },
        })
      }
    />
  );
}

const outputs = (world: World) => {
  const reached = new Set([...world.functions.values()].flatMap(({ path }) => path?.portId ?? []));
  return world.show.rig.devices.flatMap((d) =>
    d.ports
      .filter((p) => p.atComputer && (reached.has(p.id) || (d.role === 'carrier' && p.direction === 'out')))
      .map((p) => ({ value: p.id, text: `${d.name} ${p.name}` })),
  );
};

/** The action turned into another kind; what both have stays. */
function withKind(world: World, action: ActionDoc, kind: ActionDoc['kind']): ActionDoc {
  const all = [...world.functions.values()];
  const kept =
    action.kind === 'set' || action.kind === 'toggle' ? world.functions.get(action.functionId) : undefined;
  const made = (() => {
    switch (kind) {
      case 'set': {
        const found = kept ?? all[0];
        return found ? newAction({ kind, functionId: found.fn.id, value: firstValue(found.fn) }) : action;
      }
      case 'toggle': {
        const found =
          kept?.fn.shape.kind === 'switch' ? kept : all.find(({ fn }) => fn.shape.kind === 'switch');
        return found ? newAction({ kind, functionId: found.fn.id }) : action;
      }
      case 'raw': {
        const port = outputs(world)[0];
        return port ? newAction({ kind, portId: port.value, bytes: [] }) : action;
      }
      case 'scene':
        return newAction({ kind, to: { kind: 'next' } });
      case 'song':
        return newAction({ kind, to: 'next' });
      case 'bank':
        return newAction({ kind, to: { kind: 'up' } });
      case 'panic':
        return newAction({ kind });
    }
  })();
  return { ...made, id: action.id };
}
