export * from './toSmf';
export { songFromSmf, type SongFromSmf } from './fromSmf';
