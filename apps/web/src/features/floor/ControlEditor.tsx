import type { ActionDoc, AssignmentDoc, BankDoc, PresetDoc } from '@idle-step/contract';
import { labelOf } from '@idle-step/core/engine';
import { actionsOf, gestureWants, type Gesture } from '@idle-step/core/floor';
import { Play } from 'lucide-react';
import { useState } from 'react';
import { Button } from 'react-bootstrap';
import { z } from 'zod';
import { useEdit } from '../../drafts/useDocs';
import { useLive, useLiveHost } from '../../live/useLive';
import { Cloth } from '../../ui/Cloth';
import { TextField } from '../../ui/Fields';
import { ActionList } from './ActionList';
import { assignmentOf, withAssignment } from './presetEdits';
import { GestureTimes } from './GestureTimes';
import { SweepList } from './SweepList';
import { WirePanel } from './WirePanel';

const Label = z.string().trim().max(40, { error: 'The label is longer than 40 characters.' });

/** How long a test press holds the switch down, in ms. */
const TEST_PRESS_MS = 150;

type Props = { preset: PresetDoc; bank: BankDoc; boardIndex: number; controlId: string };

/** What the control in hand does in the bank in force. */
export function ControlEditor({ preset, controlId, bank, boardIndex }: Props) {
  const host = useLiveHost();
  const edit = useEdit('presets');
  const { world, state } = useLive();
  const [openAction, setOpenAction] = useState<string | null>(null);
  const control = world.boards[boardIndex]?.board.controls.find((c) => c.id === controlId);
  if (!control) return null;
  const assignment = assignmentOf(controlId, bank);
  const change = (label: string, part: Partial<AssignmentDoc>) =>
    edit(preset.id, label, (p) => {
      const now = assignmentOf(
        controlId,
        p.banks.find((b) => b.id === bank.id),
      );
      return withAssignment(p, bank.id, { ...now, ...part });
    });
  const label = labelOf(world, assignment, state.position.songIndex);
  const isPedal = control.kind === 'expression-pedal';
  const all = actionsOf(assignment) as readonly ActionDoc[];
  const shown = all.find((a) => a.id === openAction) ?? all[0] ?? null;
  const list = (gesture: Gesture) => (
    <ActionList
      boardIndex={boardIndex}
      gesture={gesture}
      wants={gestureWants(assignment)}
      actions={assignment[gesture]}
      openId={openAction}
      onOpen={setOpenAction}
      onChange={(what, actions: ActionDoc[]) => change(what, { [gesture]: actions })}
    />
  );
  const testPress = () => {
    host.pressSwitch(controlId, true);
    window.setTimeout(() => host.pressSwitch(controlId, false), TEST_PRESS_MS);
  };
  return (
    <section className="control-editor" aria-label={`What ${control.name} does`}>
      <div className="place-head">
        <Cloth text={label || control.name} className="fs-cloth" />
        <span>
          {control.name}, bank {preset.banks.indexOf(bank) + 1}
        </span>
        <TextField
          hideLabel
          label="Label"
          className="label-field"
          placeholder={`label: ${label || 'none'}`}
          value={assignment.label}
          schema={Label}
          onCommit={(text) => change('change a label', { label: text })}
        />
        <span className="muted small">
          sends {control.sends.kind === 'controller' ? 'CC' : 'note'} {control.sends.number} on channel{' '}
          {world.boards[boardIndex]!.device.channel + 1}
        </span>
        <span className="gap" />
        {!isPedal && (
          <Button variant="go" onClick={testPress}>
            <Play size={16} strokeWidth={1.75} aria-hidden="true" />
            Test press
          </Button>
        )}
      </div>
      {isPedal ? (
        <SweepList
          sweeps={assignment.sweeps}
          position={state.pedals[controlId] ?? 0}
          onChange={(what, sweeps) => change(what, { sweeps })}
        />
      ) : (
        <div className="gestures">
          <GestureTimes assignment={assignment} onChange={(what, timing) => change(what, { timing })} />
          {list('press')}
          {list('release')}
          {list('hold')}
          {list('doublePress')}
        </div>
      )}
      <WirePanel assignment={assignment} action={shown} />
    </section>
  );
}
