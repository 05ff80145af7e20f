import { startHand, type Wire } from '@bexlen/core';

startHand(self as unknown as Wire);
