export * from './packed';
export * from './universal';
export * from './dumpFrame';
export * from './sending';
export * from './receiving';
export * from './boardJob';
export * from './dumpJob';
