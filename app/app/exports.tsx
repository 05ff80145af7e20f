export { Exports as default } from '../src/exports/Exports';
