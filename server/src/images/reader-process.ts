import { startReader } from './reader';

startReader();
