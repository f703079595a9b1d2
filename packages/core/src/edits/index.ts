export * from './json';
export * from './difference';
export * from './merge';
export * from './references';
export * from './finding';
