import {
  type Control,
  type Board,
  CONTROL_KINDS,
  CONTROL_MESSAGES,
  isPressed,
  KEY_NUMBERS,
  keyName,
  keyNumber,
  type ControlKind,
} from '@idle-step/core/floor';
import type { FullRig } from '@idle-step/core/routing';
import { ChannelNumber, Millimetres, Name, SizeMm, whole } from '@idle-step/contract';
import { Button } from 'react-bootstrap';
import { NumberField, Pick, TextField } from '../../../ui/Fields';
import { NoteField } from '../../../actions/NoteField';
import { LampHardware } from './LampHardware';
import { MovedHardware } from './MovedHardware';
import { SwitchHardware } from './SwitchHardware';
import { nth, there } from '@idle-step/core/sure';

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

const SENDS_WORDS: Record<Control['sends']['kind'], string> = {
  controller: 'controller',
  note: 'note',
  program: 'program',
  'controller-14': 'pair of controllers, 14 bits',
  rpn: 'registered parameter (RPN)',
  nrpn: 'parameter (NRPN)',
  'pitch-bend': 'pitch bend',
  'channel-pressure': 'channel pressure',
  key: 'key of the computer',
};

type Props = {
  rig: FullRig;
  board: Board;
  controls: readonly Control[];
  onChange(label: string, part: (control: Control) => Control): void;
  onSameKind(kind: ControlKind): void;
  onClearLearned(): void;
};

/** What the controls in hand are, where they lie, what they send and how they are built. */
export function ControlSettings({ rig, board, controls, onChange, onSameKind, onClearLearned }: Props) {
  const first = nth(controls, 0);
  const one = controls.length === 1;
  const { kind } = first;
  const own = rig.devices.find((d) => d.id === board.deviceId)?.channel ?? 0;
  const set = (label: string, part: Partial<Control>) => onChange(label, (c) => ({ ...c, ...part }));
  const setHardware = (label: string, part: Partial<Control['hardware']>) =>
    onChange(label, (c) => ({ ...c, hardware: { ...c.hardware, ...part } }));
  const sameKind = board.controls.filter((c) => c.kind === kind).length;
  const pressed = isPressed(kind);
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
      <SendsSettings control={first} isOne={one} ownChannel={own} set={set} onClearLearned={onClearLearned} />
      {pressed ? (
        <SwitchHardware controls={controls} set={setHardware} />
      ) : (
        <MovedHardware key={first.id} control={first} isOne={one} set={setHardware} />
      )}
      <LampHardware control={first} set={setHardware} />
    </div>
  );
}

/** The message by which its hardware says that it was touched. */
function SendsSettings({
  control,
  isOne,
  ownChannel,
  set,
  onClearLearned,
}: {
  control: Control;
  isOne: boolean;
  /** The channel of its board, 0–15. */
  ownChannel: number;
  set(label: string, part: Partial<Control>): void;
  onClearLearned(): void;
}) {
  const { sends } = control;
  const hasNumber = sends.kind !== 'pitch-bend' && sends.kind !== 'channel-pressure';
  const highest =
    sends.kind === 'controller-14' ? 31 : sends.kind === 'rpn' || sends.kind === 'nrpn' ? 16382 : 127;
  return (
    <fieldset>
      <legend>Its hardware sends</legend>
      {isOne && (
        <>
          <Pick
            label="Message"
            value={sends.kind}
            options={CONTROL_MESSAGES.flatMap((value) =>
              value === 'key' && !isPressed(control.kind) ? [] : { value, text: SENDS_WORDS[value] },
            )}
            onPick={(value) =>
              set('change what a control sends', {
                sends: {
                  kind: value,
                  number: numberFor(value, sends.number),
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
          ) : sends.kind === 'key' ? (
            <Pick
              label="Key"
              value={sends.number}
              options={KEY_NUMBERS.map((value) => ({ value, text: keyName(value) }))}
              onPick={(number) => set('change a key', { sends: { kind: 'key', number } })}
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
        value={control.channel ?? -1}
        options={[
          { value: -1, text: `the board’s, ${ownChannel + 1}` },
          ...Array.from({ length: 16 }, (_, i) => ({ value: i, text: String(i + 1) })),
        ]}
        onPick={(value) => {
          const channel = Number(value) < 0 ? null : ChannelNumber.parse(Number(value));
          set('change a channel', { channel });
        }}
      />
      <Button variant="bare" onClick={onClearLearned}>
        Clear what was learned of {isOne ? 'it' : 'them'}
      </Button>
    </fieldset>
  );
}

/** The number that stays, or the nearest that the kind has. */
const numberFor = (kind: Control['sends']['kind'], number: number): number => {
  if (kind === 'controller-14') return Math.min(31, number);
  return kind === 'key' && !KEY_NUMBERS.includes(number) ? PAGE_DOWN : number;
};

const PAGE_DOWN = there(keyNumber('PageDown'));
