import { startReader } from './decoder';

startReader(Number(process.argv[2]));
