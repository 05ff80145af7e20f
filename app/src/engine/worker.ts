import { startWorker, type Wire } from '@bexlen/core/engine';

startWorker(self as unknown as Wire);
