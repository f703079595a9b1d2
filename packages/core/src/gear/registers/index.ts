export * from './register';
export { registersOf, replaces, REGISTER, rowKey, type RowRegisters } from './rowRegisters';
export { writesOf } from './told';
export * from './heard';
export * from './reading';
