import { pino, type Logger } from 'pino';
import { z } from 'zod';

const LogEnvironment = z.object({
  YARVO_LOG_LEVEL: z.enum(['trace', 'debug', 'info', 'warn', 'error', 'fatal', 'silent']).default('info'),
  /** Appended to; standard error where none is named. */
  YARVO_LOG_FILE: z.string().min(1).optional(),
});

const HOLDER = globalThis as { yarvoLog?: Logger };

/** The log of this process: one JSON object a line. Kept on the global scope, since the framework loads modules twice. */
export function log(): Logger {
  if (!HOLDER.yarvoLog) {
    const { YARVO_LOG_LEVEL: level, YARVO_LOG_FILE: file } = LogEnvironment.parse(process.env);
    // Written at once: the last lines before a crash are the ones that are wanted.
    const destination = pino.destination({ dest: file ?? 2, sync: true, mkdir: true });
    // A full disk must not end the server for the sake of its log.
    destination.on('error', () => undefined);
    HOLDER.yarvoLog = pino({ level, base: { pid: process.pid } }, destination);
  }
  return HOLDER.yarvoLog;
}
