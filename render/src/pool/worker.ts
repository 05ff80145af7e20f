import os from 'node:os';
import { parentPort, workerData } from 'node:worker_threads';
import { startWorker, type Wire } from '@bexlen/core/engine';

if (!parentPort) throw new Error('this is a worker');
const { niceness } = workerData as { readonly niceness: number };
// On Linux this holds for the thread that asks, not for the process.
if (niceness > 0 && process.platform === 'linux') os.setPriority(niceness);
startWorker(parentPort as unknown as Wire);
