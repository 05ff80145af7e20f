export { GpuMachine, TooLarge, type Source } from './machine';
