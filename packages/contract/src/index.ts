export * from './numbers';
export * from './rig';
export * from './preset';
export * from './song';
export * from './kept';
export * from './problem';
export * from './references';
export * from './presetFile';
