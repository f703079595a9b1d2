export * from './toSmf';
export * from './notInFile';
export { songFromSmf, type SongFromSmf } from './fromSmf';
