import { type ActionDoc } from '@idle-step/contract';
import { useWorld } from '../../live/useLive';
import { NumberField, Pick } from '../../ui/Fields';
import { whole } from '@idle-step/contract';
import { FunctionPick, ValuePick } from '../../gear/FunctionPick';
import { ArmStepFields } from './actions/ArmStepFields';
import { BankFields } from './actions/BankFields';
import { ClockFields } from './actions/ClockFields';
import { DelayFields } from './actions/DelayFields';
import { MessageFields } from './actions/MessageFields';
import { OneOfFields } from './actions/OneOfFields';
import { PageFields } from './actions/PageFields';
import { RampFields } from './actions/RampFields';
import { RawFields } from './actions/RawFields';
import { RouteFields } from './actions/RouteFields';
import { StepFields } from './actions/StepFields';
import { ACTION_KINDS, armsTrack, endsOf, withKind } from './actionKinds';
import { firstValue } from '../../edits/presetEdits';
import type { World } from '@idle-step/core/engine';

/** One action, opened: what it does, to what, and with which value. */
export function ActionEditor({
  boardIndex,
  action,
  onChange,
}: {
  boardIndex: number;
  action: ActionDoc;
  onChange(action: ActionDoc): void;
}) {
  const world = useWorld();
  return (
    <div className="action-editor">
      <Pick
        label="Does"
        value={action.kind}
        options={ACTION_KINDS.filter(
          ({ value }) => value === action.kind || withKind(world, boardIndex, action, value),
        )}
        onPick={(kind) => {
          const next = withKind(world, boardIndex, action, kind);
          if (next) onChange(next);
        }}
      />
      <Details world={world} boardIndex={boardIndex} action={action} onChange={onChange} />
      <DelayFields action={action} onChange={onChange} />
    </div>
  );
}

function Details({
  world,
  boardIndex,
  action,
  onChange,
}: {
  world: World;
  boardIndex: number;
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
    case 'arm-only':
      return (
        <FunctionPick
          functionId={action.functionId}
          accepts={armsTrack}
          onPick={(fn) => onChange({ ...action, functionId: fn.id })}
        />
      );
    case 'momentary':
      return (
        <>
          <FunctionPick
            functionId={action.functionId}
            accepts={(fn) => fn.shape.kind !== 'trigger'}
            onPick={(fn) => onChange({ ...action, functionId: fn.id, ...endsOf(fn) })}
          />
          <ValuePick
            label="Down"
            functionId={action.functionId}
            value={action.down}
            onPick={(down) => onChange({ ...action, down })}
          />
          <ValuePick
            label="Up"
            functionId={action.functionId}
            value={action.up}
            onPick={(up) => onChange({ ...action, up })}
          />
        </>
      );
    case 'step':
      return <StepFields action={action} onChange={onChange} />;
    case 'one-of':
      return <OneOfFields action={action} onChange={onChange} />;
    case 'ramp':
      return <RampFields action={action} onChange={onChange} />;
    case 'message':
      return <MessageFields world={world} action={action} onChange={onChange} />;
    case 'arm-step':
      return <ArmStepFields world={world} action={action} onChange={onChange} />;
    case 'route':
      return <RouteFields world={world} action={action} onChange={onChange} />;
    case 'clock':
      return <ClockFields world={world} action={action} onChange={onChange} />;
    case 'page':
      return <PageFields world={world} boardIndex={boardIndex} action={action} onChange={onChange} />;
    case 'tap':
      return <p className="small muted">The time between two taps is a beat.</p>;
    case 'raw':
      return <RawFields world={world} action={action} onChange={onChange} />;
    case 'bank':
      return <BankFields world={world} action={action} onChange={onChange} />;
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
