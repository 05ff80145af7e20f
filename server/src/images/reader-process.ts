import { startReader } from './reader';

startReader(Number(process.argv[2]));
