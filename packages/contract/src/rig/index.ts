export * from './chart';
export * from './device';
export * from './board';
export * from './rig';
