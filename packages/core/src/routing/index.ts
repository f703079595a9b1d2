export * from './route';
export * from './change';
export * from './modulation';
export * from './numberTable';
export * from './routeMemory';
export * from './routeTable';
export * from './passRoutes';
export * from './loops';
