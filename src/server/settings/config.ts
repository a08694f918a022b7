import { z } from 'zod';
import { MOST_FRAMES } from '@/core/motion/frame-times';

const EnvironmentSchema = z.object({
  YARVO_DB_HOST: z.string().default('127.0.0.1'),
  YARVO_DB_PORT: z.coerce.number().int().positive(),
  YARVO_DB_USER: z.string().default('yarvo'),
  YARVO_DB_PASSWORD: z.string(),
  YARVO_DB_NAME: z.string().default('yarvo'),
  YARVO_DB_STATEMENT_MS: z.coerce.number().int().positive().optional(),
  YARVO_WORKERS: z.string(),
  YARVO_WORKER_MEMORY_MB: z.coerce.number().int().positive().default(1024),
  YARVO_WORKER_TIMEOUT_MS: z.coerce.number().int().positive().default(60_000),
  YARVO_MOST_FRAMES: z.coerce.number().int().positive().default(MOST_FRAMES),
});

export interface Config {
  readonly database: {
    readonly host: string;
    readonly port: number;
    readonly user: string;
    readonly password: string;
    readonly name: string;
    /** A statement without an answer is given up after this; null for never, as in migrations. */
    readonly statementMs: number | null;
  };
  /** Longest motion, frames. */
  readonly mostFrames: number;
  readonly workers: { readonly folder: string; readonly memoryMegabytes: number; readonly timeoutMs: number };
}

let config: Config | undefined;

/** Settings from the environment, read once. `./start` and the tests set them. @throws if one is missing. */
export function readConfig(environment: NodeJS.ProcessEnv = process.env): Config {
  if (config) return config;
  const parsed = EnvironmentSchema.safeParse(environment);
  if (!parsed.success) {
    const names = parsed.error.issues.map((issue) => issue.path.join('.')).join(', ');
    throw new Error(`Yarvo's server is started with ./start; these settings are missing: ${names}`);
  }
  const env = parsed.data;
  config = {
    database: {
      host: env.YARVO_DB_HOST,
      port: env.YARVO_DB_PORT,
      user: env.YARVO_DB_USER,
      password: env.YARVO_DB_PASSWORD,
      name: env.YARVO_DB_NAME,
      statementMs: env.YARVO_DB_STATEMENT_MS ?? null,
    },
    mostFrames: env.YARVO_MOST_FRAMES,
    workers: {
      folder: env.YARVO_WORKERS,
      memoryMegabytes: env.YARVO_WORKER_MEMORY_MB,
      timeoutMs: env.YARVO_WORKER_TIMEOUT_MS,
    },
  };
  return config;
}
