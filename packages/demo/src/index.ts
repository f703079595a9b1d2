export { demoControl, demoFunction, demoRig, DEMO_PORT, TRACK_NAMES } from './rig';
export { demoPresets } from './presets';
export { demoSets, demoSongs } from './songs';
