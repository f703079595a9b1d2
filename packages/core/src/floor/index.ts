export * from './board';
export * from './curve';
export * from './preset';
export * from './sweepValue';
export * from './proposedLabel';
export * from './presetWithout';
export * from './gesture';
