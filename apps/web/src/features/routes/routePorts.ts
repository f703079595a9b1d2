import type { FullRig } from '@idle-step/core/routing';
import { portWords, inputsAtComputer, outputsAtComputer } from '@idle-step/core/gear';

type Option = { readonly value: string; readonly text: string };

/** Where something can arrive: inputs and lines. */
export const arrivalOptions = (rig: FullRig): readonly Option[] => [
  ...inputsAtComputer(rig).map(({ port, device }) => ({
    value: port.id,
    text: portWords(device, port),
  })),
  ...lineInputs(rig),
];

/** Where a route can take from: inputs, lines, and outputs for what is said there. */
export const sourceOptions = (rig: FullRig): readonly Option[] => [
  ...arrivalOptions(rig),
  ...outputsAtComputer(rig).map(({ port, device }) => ({
    value: port.id,
    text: `own messages to ${portWords(device, port)}`,
  })),
];

/** Where a route can send: outputs and lines. */
export const destinationOptions = (rig: FullRig): readonly Option[] => [
  ...outputsAtComputer(rig).map(({ port, device }) => ({
    value: port.id,
    text: portWords(device, port),
  })),
  ...lineInputs(rig),
];

const lineInputs = (rig: FullRig): readonly Option[] =>
  rig.routing.lines.map((l) => ({ value: l.id, text: `line ${l.name}` }));
