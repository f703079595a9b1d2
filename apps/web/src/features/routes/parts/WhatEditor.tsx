import { type Route, numbersText, parseNumbers } from '@idle-step/core/routing';
import { DataByte } from '@idle-step/contract';
import { NumberField, TypedField } from '../../../ui/Fields';
import { ManyPick } from '../ManyPick';

import { CHANNEL_OPTIONS, KIND_OPTIONS, typed, type PartProps } from './partFields';

/** Which messages it takes in. */
export function WhatEditor({ rig, route, onChange }: PartProps) {
  const { from } = route;
  const set = (part: Partial<Route['from']>) => onChange({ ...route, from: { ...from, ...part } });
  return (
    <>
      <ManyPick
        legend="Kinds"
        none="everything"
        options={KIND_OPTIONS}
        chosen={from.kinds}
        onChange={(kinds) => set({ kinds })}
      />
      <ManyPick
        legend="Channels"
        none="any"
        options={CHANNEL_OPTIONS}
        chosen={from.channels}
        onChange={(channels) => set({ channels })}
      />
      <div className="field-row">
        <TypedField
          label="Numbers"
          className="wide"
          placeholder="any; or 7, 20 to 27, C3 to B3"
          shown={numbersText(from.numbers)}
          parse={(text) => typed(parseNumbers(text, rig.middleC))}
          onCommit={(numbers) => set({ numbers: numbers.map((s) => ({ ...s })) })}
        />
        <NumberField
          label="Lowest value"
          className="narrow"
          value={from.values?.from ?? 0}
          schema={DataByte}
          onCommit={(value) => set({ values: spanOf(value, from.values?.to ?? 127) })}
        />
        <NumberField
          label="Highest value"
          className="narrow"
          value={from.values?.to ?? 127}
          schema={DataByte}
          onCommit={(value) => set({ values: spanOf(from.values?.from ?? 0, value) })}
        />
      </div>
    </>
  );
}

/** All values is no filter at all. */
const spanOf = (a: number, b: number) =>
  Math.min(a, b) === 0 && Math.max(a, b) === 127 ? null : { from: Math.min(a, b), to: Math.max(a, b) };
