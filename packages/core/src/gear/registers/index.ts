export * from './register';
export { registersOf, replaces, REGISTER, rowKey, type RowRegisters } from './rowRegisters';
export * from './told';
export * from './heard';
export * from './reading';
