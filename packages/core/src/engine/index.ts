export * from './events';
export * from './liveState';
export * from './world';
export * from './lamps';
export * from './step';
export * from './actionWire';
export * from './sceneCost';
export * from './armed';
