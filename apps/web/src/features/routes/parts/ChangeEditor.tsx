import {
  type Route,
  CHANGED_KINDS,
  numberTableText,
  parseNumberTable,
  PLAIN_MODULATION,
} from '@idle-step/core/routing';
import { readWhole } from '@idle-step/core/typed';
import { DataByte, whole } from '@idle-step/contract';
import { Button } from 'react-bootstrap';
import { NumberField, Pick, TypedField } from '../../../ui/Fields';
import { inPieces } from '../../../ui/inPieces';

import { CurvePick } from '../../../ui/CurvePick';
import { CHANNEL_OPTIONS, typed, type PartProps } from './partFields';
import { there } from '@idle-step/core/sure';

const ModulationFields = inPieces(
  () => import('../ModulationFields').then((m) => m.ModulationFields),
  <p className="muted small">Drawing …</p>,
);

const AS_OPTIONS = [
  { value: 'keep', text: 'the same kind' },
  ...CHANGED_KINDS.map((value) => ({ value, text: `a ${value.replace('-', ' ')}` })),
] as const;

/** What becomes of them. */
export function ChangeEditor({ rig, route, onChange }: PartProps) {
  const { change, modulation } = route;
  const set = (part: Partial<Route['change']>) => onChange({ ...route, change: { ...change, ...part } });
  const setValue = (part: Partial<Route['change']['value']>) => set({ value: { ...change.value, ...part } });
  return (
    <>
      <div className="field-row">
        <Pick
          label="Goes on"
          value={modulation ? 'swell' : 'message'}
          options={[
            { value: 'message', text: 'the message itself' },
            { value: 'swell', text: 'a swell that its notes start' },
          ]}
          onPick={(kind) =>
            onChange({ ...route, modulation: kind === 'swell' ? { ...PLAIN_MODULATION } : null })
          }
        />
      </div>
      {modulation ? (
        <ModulationFields
          modulation={modulation}
          onChange={(next) => onChange({ ...route, modulation: next })}
        />
      ) : (
        <>
          <TypedField
            label="Numbers in and out"
            className="wide"
            placeholder="CC 30 to 7, 31 to 10; note 40 to 52"
            shown={numberTableText(change.numbers, rig.middleC)}
            parse={(text) => typed(parseNumberTable(text, rig.middleC))}
            onCommit={(numbers) => set({ numbers: numbers.map((n) => ({ ...n })) })}
          />
          <div className="field-row">
            <NumberField
              label="Transpose, semitones"
              className="narrow"
              value={change.transpose}
              schema={whole('Transposition', -127, 127, ' semitones')}
              onCommit={(transpose) => set({ transpose })}
            />
            <NumberField
              label="Program offset"
              className="narrow"
              value={change.programShift}
              schema={whole('Program offset', -127, 127)}
              onCommit={(programShift) => set({ programShift })}
            />
            <ChannelFields channel={change.channel} onChange={(channel) => set({ channel })} />
            <Pick
              label="Becomes"
              value={change.as?.kind ?? 'keep'}
              options={AS_OPTIONS}
              onPick={(kind) => set({ as: kind === 'keep' ? null : { kind, number: null } })}
            />
            {change.as && (
              <OptionalByte
                label="Its number"
                placeholder="the same"
                value={change.as.number}
                refusal={(t) => `${t} is no number from 0 to 127; leave it empty to keep the number.`}
                onCommit={(number) => set({ as: { ...there(change.as), number } })}
              />
            )}
          </div>
          <div className="field-row">
            <NumberField
              label="Value at the lowest"
              className="narrow"
              value={change.value.from}
              schema={DataByte}
              onCommit={(from) => setValue({ from })}
            />
            <NumberField
              label="Value at the highest"
              className="narrow"
              value={change.value.to}
              schema={DataByte}
              onCommit={(to) => setValue({ to })}
            />
            <CurvePick label="Curve" value={change.value.curve} onPick={(curve) => setValue({ curve })} />
            <OptionalByte
              label="Always"
              placeholder="no"
              value={change.value.fixed}
              refusal={(t) => `${t} is no value from 0 to 127; leave it empty to let values through.`}
              onCommit={(fixed) => setValue({ fixed })}
            />
            <Button
              variant="quiet"
              onClick={() => setValue({ from: change.value.to, to: change.value.from })}
            >
              Invert
            </Button>
          </div>
        </>
      )}
    </>
  );
}

type ChannelChange = Route['change']['channel'];

/** The channel that messages go on with. */
function ChannelFields({
  channel,
  onChange,
}: {
  channel: ChannelChange;
  onChange(channel: ChannelChange): void;
}) {
  return (
    <>
      <Pick
        label="Channel"
        value={channel.kind}
        options={[
          { value: 'keep', text: 'as it is' },
          { value: 'force', text: 'always' },
          { value: 'shift', text: 'moved by' },
        ]}
        onPick={(kind) =>
          onChange(
            kind === 'force' ? { kind, channel: 0 } : kind === 'shift' ? { kind, by: 1 } : { kind: 'keep' },
          )
        }
      />
      {channel.kind === 'force' && (
        <Pick
          label="Which"
          className="narrow"
          value={channel.channel}
          options={CHANNEL_OPTIONS}
          onPick={(to) => onChange({ kind: 'force', channel: to })}
        />
      )}
      {channel.kind === 'shift' && (
        <NumberField
          label="Channels up"
          className="narrow"
          value={channel.by}
          schema={whole('Shift', -15, 15, ' channels')}
          onCommit={(by) => onChange({ kind: 'shift', by })}
        />
      )}
    </>
  );
}

/** A number from 0 to 127, or nothing. */
const OptionalByte = ({
  label,
  placeholder,
  value,
  refusal,
  onCommit,
}: {
  label: string;
  placeholder: string;
  value: number | null;
  refusal(text: string): string;
  onCommit(value: number | null): void;
}) => (
  <TypedField
    label={label}
    className="narrow"
    numeric
    placeholder={placeholder}
    shown={value === null ? '' : String(value)}
    parse={(text) => {
      if (text.trim() === '') return { value: null };
      const read = DataByte.safeParse(readWhole(text) ?? text);
      return read.success ? { value: read.data } : { error: refusal(text) };
    }}
    onCommit={onCommit}
  />
);
