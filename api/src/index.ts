export * from './common';
export * from './photos';
export * from './versions';
export * from './formats';
export * from './exports';
export * from './looks';
export * from './news';
export * from './phone';
