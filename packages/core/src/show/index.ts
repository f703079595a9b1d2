export * from './song';
export * from './carried';
export * from './recallPlan';
