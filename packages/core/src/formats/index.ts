export * from './functionText';
export * from './driveText';
export * from './chartCsv';
export * from './midnamModel';
export * from './midnam';
export * from './smf';
export * from './midnamReader';
export * from './pastedCells';
