import { kill } from 'node:process';

/** A shutdown of InnoDB may take long; a killed server recovers from its log at the next start. */
const PATIENCE_MS = 30_000;
const AGAIN_MS = 2_000;
const LOOK_MS = 20;

/** Asks a process to end, asks again, and in the end kills it: no stop of Yarvo may wait for ever. */
export async function terminate(pid: number, isRunning: () => boolean, patienceMs = PATIENCE_MS): Promise<void> {
  const start = Date.now();
  let asked = -Infinity;
  while (isRunning()) {
    const now = Date.now();
    if (now - start > patienceMs) signal(pid, 'SIGKILL');
    else if (now - asked > AGAIN_MS) {
      signal(pid, 'SIGTERM');
      asked = now;
    }
    await new Promise((resolve) => setTimeout(resolve, LOOK_MS));
  }
}

function signal(pid: number, name: 'SIGTERM' | 'SIGKILL'): void {
  try {
    kill(pid, name);
  } catch {
    // It ended between the look and the signal.
  }
}
