export * from './live';
export * from './sending';
export * from './lampUpdate';
export * from './due';
export * from './ahead';
export { takeReport, takeTurn } from './takeIn';
