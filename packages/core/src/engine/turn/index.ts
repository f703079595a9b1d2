export * from './turn';
export * from './sending';
export * from './lampUpdate';
export * from './due';
