export * from './chartFunction';
export * from './rig';
export * from './functionMessages';
export * from './shown';
export * from './reach';
