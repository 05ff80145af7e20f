import { startWorker, type Wire } from '@bexlen/core';

startWorker(self as unknown as Wire);
