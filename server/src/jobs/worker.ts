import { parentPort } from 'node:worker_threads';
import { startWorker, type Wire } from '@bexlen/core';

if (!parentPort) throw new Error('this is a worker');
startWorker(parentPort as unknown as Wire);
