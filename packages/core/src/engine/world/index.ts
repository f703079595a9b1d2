export * from './world';
export * from './compileWorld';
export * from './place';
export * from './labels';
export { messageKey, sequenceKey } from './inputKeys';
export { EVERY_CAUSE, LAMP_CAUSES, type LampCause, type LitWhileDown } from './lampCauses';
export type { Turn } from './turnTable';
