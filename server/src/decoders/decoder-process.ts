import { startDecoder } from './decoder';

startDecoder(Number(process.argv[2]));
