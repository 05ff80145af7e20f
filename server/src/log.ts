import pino from 'pino';

export type Log = pino.Logger;

/** Lines of JSON on standard error; people get their own sentences on standard output. */
export const newLog = (level: string): Log => pino({ level }, pino.destination(2));
