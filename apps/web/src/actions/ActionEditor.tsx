import type { Action } from '@idle-step/core/floor';
import { NOT_IN_CUES } from '@idle-step/contract';
import { useWorld } from '../live/use/useLive';
import { Pick } from '../ui/Fields';
import { FunctionPick, ValuePick } from '../gear/FunctionPick';
import { ArmStepFields } from './ArmStepFields';
import { BankFields } from './BankFields';
import { ClockFields } from './ClockFields';
import { DelayFields } from './DelayFields';
import type { ActionHome } from './fields';
import { MessageFields } from './MessageFields';
import { OneOfFields } from './OneOfFields';
import { PageFields } from './PageFields';
import { RampFields } from './RampFields';
import { RawFields } from './RawFields';
import { RouteFields } from './RouteFields';
import { CueFields, SceneFields } from './SceneFields';
import { ShowFields, SongFields } from './SetFields';
import { StepFields } from './StepFields';
import { ACTION_KINDS, armsTrack, endsOf, withKind } from './actionKinds';
import { firstValue } from '../edits/presetEdits';
import type { World } from '@idle-step/core/engine';

/** One action, opened: what it does, to what, and with which value. */
export function ActionEditor({
  home,
  action,
  onChange,
}: {
  home: ActionHome;
  action: Action;
  onChange(action: Action): void;
}) {
  const world = useWorld();
  const boardIndex = home.kind === 'board' ? home.boardIndex : -1;
  return (
    <div className="action-editor">
      <Pick
        label="Does"
        value={action.kind}
        options={ACTION_KINDS.filter(
          ({ value }) =>
            value === action.kind ||
            (!(home.kind === 'cue' && NOT_IN_CUES.has(value)) && withKind(world, boardIndex, action, value)),
        )}
        onPick={(kind) => {
          const next = withKind(world, boardIndex, action, kind);
          if (next) onChange(next);
        }}
      />
      <Details world={world} home={home} boardIndex={boardIndex} action={action} onChange={onChange} />
      <DelayFields action={action} isSwitched={home.kind === 'board'} onChange={onChange} />
    </div>
  );
}

function Details({
  world,
  home,
  boardIndex,
  action,
  onChange,
}: {
  world: World;
  home: ActionHome;
  boardIndex: number;
  action: Action;
  onChange(action: Action): void;
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
      return <SceneFields home={home} action={action} onChange={onChange} />;
    case 'cue':
      return <CueFields world={world} home={home} action={action} onChange={onChange} />;
    case 'line':
      return (
        <Pick
          label="Does with it"
          value={action.to}
          options={[
            { value: 'toggle', text: 'run or stop' },
            { value: 'start', text: 'start from the beginning' },
            { value: 'continue', text: 'continue' },
            { value: 'stop', text: 'stop' },
          ]}
          onPick={(to) => onChange({ ...action, to })}
        />
      );
    case 'loop':
      return (
        <Pick
          label="Switches it"
          value={action.to}
          options={[
            { value: 'toggle', text: 'on or off' },
            { value: 'on', text: 'on' },
            { value: 'off', text: 'off' },
          ]}
          onPick={(to) => onChange({ ...action, to })}
        />
      );
    case 'song':
      return <SongFields action={action} onChange={onChange} />;
    case 'show':
      return <ShowFields action={action} onChange={onChange} />;
    case 'view':
      return (
        <Pick
          label="Which"
          value={action.to}
          options={[
            { value: 'next', text: 'the next view' },
            { value: 'previous', text: 'the view before' },
          ]}
          onPick={(to) => onChange({ ...action, to })}
        />
      );
    case 'capture':
      return (
        <p className="small muted">
          What stands otherwise than the scene in play says becomes part of it. It can be undone in Songs.
        </p>
      );
    case 'panic':
      return (
        <p className="small muted">
          Ends every note and lifts dampers on every channel in use; all sound off where the device takes it.
        </p>
      );
  }
}
