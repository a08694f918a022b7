import { randomUUID } from 'node:crypto';
import { createServer, type IncomingMessage, type ServerResponse } from 'node:http';
import next from 'next';
import { accessRules } from '@/server/access/access-rules';
import { checkRequest, type Refusal } from '@/server/access/check-request';
import { contentPolicy, makeNonce } from '@/server/access/content-policy';
import { setDatabaseStatus, type DatabaseStatus } from '@/server/database/database-status';
import { log } from '@/server/log/logger';
import { CANNOT_LISTEN } from './serve/exit-codes';

/**
 * The web server: who may use it is decided here, before the framework sees a request. Started by the supervisor with
 * its settings in the environment; says "ready" on standard output once it answers.
 */
const {
  YARVO_HOST: host = '127.0.0.1',
  YARVO_PORT: port = '4310',
  YARVO_HOSTS: hosts = '',
  YARVO_PASSWORD: password,
} = process.env;
const rules = accessRules(host, hosts, password);
/** Slows down whoever tries passwords. */
const WRONG_PASSWORD_MS = 1_000;
const CLOSING_MS = 3_000;
const IDLE_MS = 10 * 60_000;

const app = next({ dev: false, dir: process.cwd(), hostname: host, port: Number(port) });
const handle = app.getRequestHandler();

const server = createServer((request, response) => {
  const requestId = randomUUID().slice(0, 8);
  request.headers['x-request-id'] = requestId;
  response.setHeader('x-request-id', requestId);
  const refusal = checkRequest(factsOf(request), rules);
  if (refusal) return refuse(refusal, requestId, request, response);
  const policy = contentPolicy(makeNonce());
  // The framework reads the nonce from here and puts it on its own scripts.
  request.headers['content-security-policy'] = policy;
  delete request.headers['content-security-policy-report-only'];
  response.setHeader('content-security-policy', policy);
  void handle(request, response).catch((error: unknown) => {
    log().error({ requestId, path: request.url, err: error }, 'unexpected');
    if (!response.headersSent) response.writeHead(500);
    response.end();
  });
});

const factsOf = ({ method = 'GET', url = '/', headers }: IncomingMessage) => ({
  method,
  path: url.split('?')[0],
  host: headers.host,
  origin: headers.origin,
  site: headers['sec-fetch-site'] as string | undefined,
  contentType: headers['content-type'],
  hasBody: Number(headers['content-length'] ?? 0) > 0 || headers['transfer-encoding'] !== undefined,
  authorization: headers.authorization,
});

function refuse(
  { status, problem }: Refusal,
  requestId: string,
  request: IncomingMessage,
  response: ServerResponse,
): void {
  log().warn({ requestId, method: request.method, path: request.url?.slice(0, 200), problem }, 'not let in');
  const send = () => {
    const body = JSON.stringify({ error: { ...problem, requestId } });
    // What was sent along is not read: the connection ends with the answer.
    response.writeHead(status, {
      'content-type': 'application/json',
      connection: 'close',
      ...(status === 401 && { 'www-authenticate': 'Basic realm="Yarvo", charset="UTF-8"' }),
    });
    response.end(body);
  };
  if (status === 401 && request.headers.authorization !== undefined) setTimeout(send, WRONG_PASSWORD_MS);
  else send();
}

process.on('message', (message: { databaseStatus?: DatabaseStatus | null }) => {
  if (message.databaseStatus !== undefined) setDatabaseStatus(message.databaseStatus);
});
// The channel alone must not keep the process going.
process.channel?.unref();

let isClosing = false;
function close(): void {
  if (isClosing) return;
  isClosing = true;
  server.close(() => process.exit(0));
  server.closeIdleConnections();
  // Whoever still waits for an answer by then is cut off; what is not committed is rolled back.
  setTimeout(() => process.exit(0), CLOSING_MS).unref();
}
for (const signal of ['SIGINT', 'SIGTERM', 'SIGHUP'] as const) process.on(signal, close);
process.on('unhandledRejection', (error) => log().error({ err: error }, 'unhandled rejection'));
process.on('uncaughtException', (error) => {
  log().fatal({ err: error }, 'uncaught exception');
  process.exit(1);
});

// Nothing that is started again would change this.
server.once('error', (error: NodeJS.ErrnoException) => {
  log().fatal({ err: error }, 'the port cannot be opened');
  process.exit(CANNOT_LISTEN);
});

// A reader that takes nothing any more, or a sender that sends nothing: nothing here takes as long to work out.
server.setTimeout(IDLE_MS, (socket) => socket.destroy());

await app.prepare();
server.listen(Number(port), host, () => process.stdout.write('ready\n'));
