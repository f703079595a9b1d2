import type { Song } from '@idle-step/core/show';
import type { FullRig } from '@idle-step/core/routing';
import { BarNumber, CountInBars } from '@idle-step/contract';
import { inputsAtComputer, portWords } from '@idle-step/core/gear';
import { Repeat } from 'lucide-react';
import { Button, Form } from 'react-bootstrap';
import { screenChanged } from '../../../screen/screenSlice';
import { useAppDispatch, useAppSelector } from '../../../store';
import { NumberField, Pick } from '../../../ui/Fields';

type LineDoc = Song['line'];
const OWN = '';

/** What the time line runs by, and its loop. */
export function LineSettings({
  rig,
  song: { line, countInBars },
  onChange,
  onCountIn,
}: {
  rig: FullRig;
  song: Song;
  onChange(label: string, part: Partial<LineDoc>): void;
  onCountIn(bars: number): void;
}) {
  const { loop } = line;
  const isHeard = useAppSelector((s) => s.screen.countInHeard);
  const dispatch = useAppDispatch();
  return (
    <section className="line-detail" aria-label="How the time line runs">
      <div className="line-detail-head">
        <Pick
          label="Runs by"
          value={line.follows?.portId ?? OWN}
          options={[
            { value: OWN, text: 'its own tempo, and taps' },
            ...inputsAtComputer(rig).map(({ device, port }) => ({
              value: port.id,
              text: `MIDI clock at ${portWords(device, port)}`,
            })),
          ]}
          onPick={(portId) =>
            onChange('change what the time line runs by', { follows: portId ? { portId } : null })
          }
        />
        {line.follows && (
          <Pick
            label="When the clock is lost"
            value={line.whenLost}
            options={[
              { value: 'wait', text: 'wait for it' },
              { value: 'go-on', text: 'go on at the last tempo' },
            ]}
            onPick={(whenLost) => onChange('change what happens when the clock is lost', { whenLost })}
          />
        )}
        <Pick
          label="Parts begin"
          value={line.partsByTime ? 'time' : 'foot'}
          options={[
            { value: 'time', text: 'at their bars' },
            { value: 'foot', text: 'by foot' },
          ]}
          onPick={(by) => onChange('change how parts begin', { partsByTime: by === 'time' })}
        />
        <NumberField
          label="Count-in, bars"
          className="narrow"
          value={countInBars}
          schema={CountInBars}
          onCommit={onCountIn}
        />
        {countInBars > 0 && (
          <Form.Check
            id="count-in-heard"
            label="heard from this computer"
            checked={isHeard}
            onChange={(e) => dispatch(screenChanged({ countInHeard: e.target.checked }))}
          />
        )}
        {loop ? (
          <>
            <NumberField
              label="Loop from"
              className="narrow"
              value={loop.fromBar}
              schema={BarNumber}
              onCommit={(fromBar) =>
                onChange('change the loop', {
                  loop: { ...loop, fromBar, toBar: Math.max(fromBar, loop.toBar) },
                })
              }
            />
            <NumberField
              label="to bar"
              className="narrow"
              value={loop.toBar}
              schema={BarNumber}
              onCommit={(toBar) =>
                onChange('change the loop', {
                  loop: { ...loop, toBar, fromBar: Math.min(toBar, loop.fromBar) },
                })
              }
            />
            <Form.Check
              id="loop-on"
              label="loops from the start"
              checked={loop.isOn}
              onChange={(e) => onChange('switch the loop', { loop: { ...loop, isOn: e.target.checked } })}
            />
            <Button variant="quiet" onClick={() => onChange('remove the loop', { loop: null })}>
              No loop
            </Button>
          </>
        ) : (
          <Button
            variant="quiet"
            onClick={() => onChange('add a loop', { loop: { fromBar: 1, toBar: 4, isOn: false } })}
          >
            <Repeat size={16} strokeWidth={1.75} aria-hidden="true" />
            Loop
          </Button>
        )}
      </div>
      <p className="small muted">
        “+ Cue” puts one where you clicked at a bar. Cues, changes of tempo and ends of parts are moved by
        drag or by the arrows. Switches start, stop and jump with the actions “run the time line”, “go to a
        cue” and “switch the loop”.
      </p>
    </section>
  );
}
