export * from './songFile';
