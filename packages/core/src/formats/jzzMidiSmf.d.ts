/** The witness for Standard MIDI Files brings no types. */
declare module 'jzz-midi-smf' {
  const plugin: (jzz: unknown) => void;
  export default plugin;
}
