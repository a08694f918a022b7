import path from 'node:path';
import { parseArgs } from 'node:util';
import { AccessEnvironment, isLoopback } from '@/server/access/access-rules';
import { StartError } from './start-error';

export interface ServeOptions {
  readonly port: number;
  /** Absolute. */
  readonly data: string;
  readonly host: string;
  readonly isFresh: boolean;
  readonly hasDemo: boolean;
  readonly hosts: string;
  readonly password: string | undefined;
}

const FLAGS = {
  port: { type: 'string', default: '4310' },
  data: { type: 'string', default: '.data' },
  host: { type: 'string', default: '127.0.0.1' },
  fresh: { type: 'boolean', default: false },
  'no-demo': { type: 'boolean', default: false },
} as const;

const USAGE = 'Usage: ./start [--port N] [--data DIR] [--host ADDRESS] [--fresh] [--no-demo]';

/**
 * What was asked for on the command line and in the environment.
 * @throws {StartError} in one sentence, before anything was touched.
 */
export function readOptions(args: readonly string[], environment: NodeJS.ProcessEnv, root: string): ServeOptions {
  const values = parse(args);
  const port = Number(values.port);
  if (!/^\d+$/.test(values.port) || port < 1 || port > 65_535) {
    throw new StartError(`--port ${values.port} is not a port; give a number from 1 to 65535.`, 2);
  }
  if (!/^(\[?[0-9A-Fa-f:.]+\]?|[A-Za-z0-9.-]+)$/.test(values.host)) {
    throw new StartError(`--host ${values.host} is not an address or a name.`, 2);
  }
  const access = AccessEnvironment.safeParse(environment);
  if (!access.success) {
    const [issue] = access.error.issues;
    throw new StartError(`The setting ${String(issue.path[0])} ${issue.message}.`, 2);
  }
  const { YARVO_HOSTS: hosts, YARVO_PASSWORD: password } = access.data;
  if (!isLoopback(values.host) && password === undefined) {
    throw new StartError(
      `--host ${values.host} opens Yarvo to other machines: set YARVO_PASSWORD to a password of at least 10 characters first.`,
      2,
    );
  }
  return {
    port,
    data: path.resolve(root, values.data),
    host: values.host.replace(/^\[|\]$/g, ''),
    isFresh: values.fresh,
    hasDemo: !values['no-demo'],
    hosts,
    password,
  };
}

function parse(args: readonly string[]) {
  try {
    return parseArgs({ args: [...args], options: FLAGS, allowPositionals: false }).values;
  } catch (error) {
    const message = (error as Error).message.split('\n')[0].replace(/\. To specify.*$/, '.');
    throw new StartError(`${message.replace(/\.?$/, '.')} ${USAGE}`, 2);
  }
}
