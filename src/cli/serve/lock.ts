import { createHash } from 'node:crypto';
import { createServer, type Server } from 'node:net';
import { setTimeout as wait } from 'node:timers/promises';

export interface Lock {
  release(): void;
}

/**
 * A lock of this machine that ends with the process which holds it: a socket in the kernel's abstract namespace has no
 * file that a kill could leave behind (unix(7)).
 * @returns null while another process holds it.
 */
export async function tryLock(purpose: string, subject: string): Promise<Lock | null> {
  const name = `yarvo-${purpose}-${createHash('sha256').update(subject).digest('hex').slice(0, 32)}`;
  const server = createServer((socket) => socket.destroy());
  const isOurs = await listens(server, `\0${name}`);
  if (!isOurs) return null;
  server.unref();
  return { release: () => void server.close() };
}

/** Waits for the lock. @param onWait called once if it is not free at once. */
export async function waitForLock(purpose: string, subject: string, onWait: () => void): Promise<Lock> {
  let lock = await tryLock(purpose, subject);
  if (!lock) onWait();
  while (!lock) {
    await wait(250);
    lock = await tryLock(purpose, subject);
  }
  return lock;
}

function listens(server: Server, path: string): Promise<boolean> {
  return new Promise((resolve, reject) => {
    server.once('error', (error: NodeJS.ErrnoException) =>
      error.code === 'EADDRINUSE' ? resolve(false) : reject(error),
    );
    server.listen(path, () => resolve(true));
  });
}
