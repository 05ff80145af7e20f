import { parentPort } from 'node:worker_threads';
import { startHand, type Wire } from '@bexlen/core';

if (!parentPort) throw new Error('this is a worker');
startHand(parentPort as unknown as Wire);
