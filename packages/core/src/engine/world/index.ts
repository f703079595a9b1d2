export * from './world';
export * from './compileWorld';
export * from './place';
export * from './labels';
export { messageKey, sequenceKey } from './inputKeys';
