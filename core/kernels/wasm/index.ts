export * from './carry';
export * from './point';
export * from './blur';
export * from './mix';
