export * from './song';
export * from './carried';
export * from './recallPlan';
export * from './songWithout';
