export { demoControl, demoFunction, demoRig, TRACK_NAMES } from './rig';
export { DEMO_PORT } from './ids';
export { demoPresets } from './presets';
export { demoSets, demoSongs } from './songs';
