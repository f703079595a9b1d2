export * from './rows';
export * from './said';
export * from './sceneEdits';
export * from './typedCell';
export * from './range';
export * from './book';
export * from './bookTable';
export * from './songNames';
