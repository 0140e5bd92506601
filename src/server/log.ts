import pino from 'pino';

/** Structured log of this process. Keys are never logged. */
export const log = pino({
  level: process.env.ZERO_LATCH_LOG ?? 'info',
  base: { process: process.env.ZERO_LATCH_PROCESS ?? 'web' },
  redact: ['bytes', 'key', '*.bytes', '*.key'],
});
