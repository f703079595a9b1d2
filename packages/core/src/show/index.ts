export * from './song';
export * from './parts';
export * from './line';
export * from './carried';
export * from './glide';
export * from './recallPlan';
export * from './setTimes';
export * from './evening';
