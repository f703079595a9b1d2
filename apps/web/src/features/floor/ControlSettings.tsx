import {
  ChannelNumber,
  DeadZone,
  DebounceMs,
  Jitter,
  measure,
  Millimetres,
  Name,
  SizeMm,
  whole,
  type BoardDoc,
  type ControlDoc,
  type RigDoc,
} from '@idle-step/contract';
import {
  CONTROL_KINDS,
  CONTROL_MESSAGES,
  isPressed,
  onlyTaps,
  type ControlKind,
} from '@idle-step/core/floor';
import { Button, Form } from 'react-bootstrap';
import { useLiveState } from '../../live/useLive';
import { NumberField, Pick, TextField } from '../../ui/Fields';
import { NoteField } from '../../actions/NoteField';
import { Calibration } from './Calibration';

export const KIND_WORDS: Record<ControlKind, string> = {
  footswitch: 'footswitch',
  button: 'button',
  pad: 'pad',
  key: 'key',
  'expression-pedal': 'expression pedal',
  fader: 'fader',
  knob: 'knob',
  strip: 'strip',
  encoder: 'encoder',
};

const SENDS_WORDS: Record<ControlDoc['sends']['kind'], string> = {
  controller: 'controller',
  note: 'note',
  program: 'program',
  'controller-14': 'pair of controllers, 14 bits',
  rpn: 'registered parameter (RPN)',
  nrpn: 'parameter (NRPN)',
  'pitch-bend': 'pitch bend',
  'channel-pressure': 'channel pressure',
};

type Props = {
  rig: RigDoc;
  board: BoardDoc;
  controls: readonly ControlDoc[];
  onChange(label: string, part: (control: ControlDoc) => ControlDoc): void;
  onSameKind(kind: ControlKind): void;
  onClearLearned(): void;
};

/** What the controls in hand are, where they lie, what they send and how they are built. */
export function ControlSettings({ rig, board, controls, onChange, onSameKind, onClearLearned }: Props) {
  const first = controls[0]!;
  const one = controls.length === 1;
  const { sends, kind } = first;
  const own = rig.devices.find((d) => d.id === board.deviceId)?.channel ?? 0;
  const set = (label: string, part: Partial<ControlDoc>) => onChange(label, (c) => ({ ...c, ...part }));
  const setHardware = (label: string, part: Partial<ControlDoc['hardware']>) =>
    onChange(label, (c) => ({ ...c, hardware: { ...c.hardware, ...part } }));
  const sameKind = board.controls.filter((c) => c.kind === kind).length;
  const pressed = isPressed(kind);
  const hasNumber = sends.kind !== 'pitch-bend' && sends.kind !== 'channel-pressure';
  const highest =
    sends.kind === 'controller-14' ? 31 : sends.kind === 'rpn' || sends.kind === 'nrpn' ? 16382 : 127;
  return (
    <div
      className="control-settings"
      aria-label={one ? `Settings of ${first.name}` : 'Settings of the controls in hand'}
      role="group"
    >
      <fieldset>
        <legend>{one ? first.name : `${controls.length} controls`}</legend>
        {one && (
          <TextField
            label="Name, by where it lies"
            value={first.name}
            schema={Name}
            onCommit={(name) => set('rename a control', { name })}
          />
        )}
        <Pick
          label="Is a"
          value={kind}
          options={CONTROL_KINDS.map((value) => ({ value, text: KIND_WORDS[value] }))}
          onPick={(value) => set('change what a control is', { kind: value })}
        />
        {one && (
          <>
            <NumberField
              label="From the left, mm"
              className="narrow"
              value={first.xMm}
              schema={Millimetres}
              onCommit={(xMm) => set('place a control', { xMm })}
            />
            <NumberField
              label="From the far edge, mm"
              className="narrow"
              value={first.yMm}
              schema={Millimetres}
              onCommit={(yMm) => set('place a control', { yMm })}
            />
          </>
        )}
        <NumberField
          label="Wide, mm"
          className="narrow"
          value={first.widthMm}
          schema={SizeMm}
          onCommit={(widthMm) => set('size a control', { widthMm })}
        />
        <NumberField
          label="Deep, mm"
          className="narrow"
          value={first.heightMm}
          schema={SizeMm}
          onCommit={(heightMm) => set('size a control', { heightMm })}
        />
        {sameKind > controls.length && (
          <Button variant="bare" onClick={() => onSameKind(kind)}>
            Take all {sameKind} of its kind in hand
          </Button>
        )}
      </fieldset>
      <fieldset>
        <legend>Its hardware sends</legend>
        {one && (
          <>
            <Pick
              label="Message"
              value={sends.kind}
              options={CONTROL_MESSAGES.map((value) => ({ value, text: SENDS_WORDS[value] }))}
              onPick={(value) =>
                set('change what a control sends', {
                  sends: {
                    kind: value,
                    number: value === 'controller-14' ? Math.min(31, sends.number) : sends.number,
                  },
                })
              }
            />
            {sends.kind === 'note' ? (
              <NoteField
                label="Number"
                value={sends.number}
                onCommit={(number) => set('change a number', { sends: { ...sends, number } })}
              />
            ) : (
              hasNumber && (
                <NumberField
                  label="Number"
                  className="narrow"
                  value={sends.number}
                  schema={whole('Number', 0, highest)}
                  onCommit={(number) => set('change a number', { sends: { ...sends, number } })}
                />
              )
            )}
          </>
        )}
        <Pick
          label="On channel"
          value={first.channel ?? -1}
          options={[
            { value: -1, text: `the board’s, ${own + 1}` },
            ...Array.from({ length: 16 }, (_, i) => ({ value: i, text: String(i + 1) })),
          ]}
          onPick={(value) => {
            const channel = Number(value) < 0 ? null : ChannelNumber.parse(Number(value));
            set('change a channel', { channel });
          }}
        />
        <Button variant="bare" onClick={onClearLearned}>
          Clear what was learned of {one ? 'it' : 'them'}
        </Button>
      </fieldset>
      {pressed ? (
        <SwitchHardware controls={controls} set={setHardware} />
      ) : (
        <MovedHardware key={first.id} control={first} isOne={one} set={setHardware} />
      )}
      <LampHardware control={first} set={setHardware} />
    </div>
  );
}

type SetHardware = (label: string, part: Partial<ControlDoc['hardware']>) => void;

function SwitchHardware({ controls, set }: { controls: readonly ControlDoc[]; set: SetHardware }) {
  const { hardware } = controls[0]!;
  return (
    <fieldset>
      <legend>Its switch</legend>
      <Pick
        label="Is"
        value={hardware.switching}
        options={[
          { value: 'momentary', text: 'momentary' },
          { value: 'latching', text: 'latching' },
        ]}
        onPick={(switching) =>
          set('say how a switch is built', { switching, edge: switching === 'latching' ? 'down' : 'both' })
        }
      />
      <Pick
        label="Sends when it goes"
        value={hardware.edge}
        options={[
          { value: 'both', text: 'down and up' },
          { value: 'down', text: 'down only' },
          { value: 'up', text: 'up only' },
        ]}
        onPick={(edge) => set('say when a switch sends', { edge })}
      />
      <NumberField
        label="Debounce, ms"
        className="narrow"
        value={hardware.debounceMs}
        schema={DebounceMs}
        onCommit={(debounceMs) => set('debounce a switch', { debounceMs })}
      />
      {controls.some(onlyTaps) && (
        <p className="small muted">
          It tells only that it was pressed: hold, double press and release by its own foot are not possible.
          {hardware.switching === 'latching' && ' A momentary switch is recommended.'}
        </p>
      )}
    </fieldset>
  );
}

const ENCODING_WORDS: Record<ControlDoc['hardware']['encoding'], string> = {
  absolute: 'its place',
  'twos-complement': 'steps, two’s complement',
  'offset-64': 'steps, offset 64',
  'sign-bit': 'steps, sign bit',
  'sign-bit-inverted': 'steps, sign bit the other way',
};

function MovedHardware({ control, isOne, set }: { control: ControlDoc; isOne: boolean; set: SetHardware }) {
  const { hardware } = control;
  const state = useLiveState('raws');
  const Position = measure('Position', 0, 127, 'of 127');
  return (
    <fieldset>
      <legend>Its travel</legend>
      {(control.kind === 'encoder' || control.kind === 'knob') && (
        <Pick
          label="Sends"
          value={hardware.encoding}
          options={Object.entries(ENCODING_WORDS).map(([value, text]) => ({
            value: value as ControlDoc['hardware']['encoding'],
            text,
          }))}
          onPick={(encoding) => set('choose an encoding', { encoding })}
        />
      )}
      {hardware.encoding === 'absolute' && (
        <>
          <NumberField
            label="Heel stands at"
            className="narrow"
            value={Math.round(hardware.heel * 10) / 10}
            schema={Position}
            onCommit={(heel) => set('place the heel', { heel })}
          />
          <NumberField
            label="Toe stands at"
            className="narrow"
            value={Math.round(hardware.toe * 10) / 10}
            schema={Position}
            onCommit={(toe) => set('place the toe', { toe })}
          />
          <NumberField
            label="Dead zone, %"
            className="narrow"
            value={hardware.deadZone}
            schema={DeadZone}
            onCommit={(deadZone) => set('set a dead zone', { deadZone })}
          />
          <NumberField
            label="Jitter, steps"
            className="narrow"
            value={hardware.jitter}
            schema={Jitter}
            onCommit={(jitter) => set('filter jitter', { jitter })}
          />
          {isOne && (
            <Calibration
              control={control}
              raw={state.raws[control.id]}
              onDone={(found) => set('calibrate a pedal', found)}
            />
          )}
        </>
      )}
    </fieldset>
  );
}

function LampHardware({ control, set }: { control: ControlDoc; set: SetHardware }) {
  const { lamp } = control.hardware;
  const D7 = whole('Value', 0, 127);
  return (
    <fieldset>
      <legend>Its lamp</legend>
      <Form.Check
        id="lamp-by-message"
        label="is lit by messages that come back"
        checked={lamp !== null}
        onChange={(e) =>
          set('say how a lamp is lit', { lamp: e.target.checked ? { off: 0, on: 127, blink: null } : null })
        }
      />
      {lamp && (
        <>
          <NumberField
            label="Off is sent"
            className="narrow"
            value={lamp.off}
            schema={D7}
            onCommit={(off) => set('set a lamp', { lamp: { ...lamp, off } })}
          />
          <NumberField
            label="On is sent"
            className="narrow"
            value={lamp.on}
            schema={D7}
            onCommit={(on) => set('set a lamp', { lamp: { ...lamp, on } })}
          />
          <Form.Check
            id="lamp-blinks"
            label="can blink"
            checked={lamp.blink !== null}
            onChange={(e) => set('set a lamp', { lamp: { ...lamp, blink: e.target.checked ? 64 : null } })}
          />
          {lamp.blink !== null && (
            <NumberField
              label="Blinking is sent"
              className="narrow"
              value={lamp.blink}
              schema={D7}
              onCommit={(blink) => set('set a lamp', { lamp: { ...lamp, blink } })}
            />
          )}
        </>
      )}
    </fieldset>
  );
}
