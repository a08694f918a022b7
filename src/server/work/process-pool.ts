import { spawn, type ChildProcess } from 'node:child_process';
import { randomUUID } from 'node:crypto';
import { readFileSync } from 'node:fs';
import { rm } from 'node:fs/promises';
import os from 'node:os';
import path from 'node:path';
import type { Parcel, WorkOrder } from '@/workers/server/main';
import { stow, unstow, type StowedMessage } from '@/workers/server/stow';

export interface ProcessPoolOptions {
  /** File that a worker runs; it answers each order on its channel with one message. */
  readonly entry: string;
  readonly mostWorkers: number;
  /** Orders that may wait; beyond this a caller is told to come back. */
  readonly mostWaiting: number;
  /** Of the heap. Arrays lie outside of it: a worker may hold as much again of those before it is ended. */
  readonly memoryMegabytes: number;
  readonly idleMs: number;
  /** One order may take this long, counted from when a worker began with it. */
  readonly timeoutMs: number;
  /** Told of each large array of an answer and its SHA-256. */
  readonly onBytes?: (bytes: Uint8Array, hash: string) => void;
}

/** Folders with what goes to workers and comes back; named after the process that they belong to. */
export const WORK_FOLDER_PREFIX = 'yarvo-work-';

/** Why an order came to nothing. */
export class WorkError extends Error {
  constructor(
    readonly code: 'queue-full' | 'too-much-memory' | 'too-slow' | 'ended' | 'aborted',
    message: string,
  ) {
    super(message);
    this.name = 'WorkError';
  }
}

interface Waiting {
  readonly order: WorkOrder;
  readonly signal: AbortSignal;
  readonly resolve: (answer: unknown) => void;
  readonly reject: (error: WorkError) => void;
  /** Stops listening for the order being taken back while it waits: a signal may outlive the order by a minute, and would hold its files. */
  readonly leaveQueue: () => void;
}

interface Worker {
  readonly process: ChildProcess;
  /** What it printed last; the runtime's own words where it ended by itself. */
  said: string;
  idleTimer: NodeJS.Timeout | null;
}

const LOOK_MS = 50;
const MEGABYTE = 1024 * 1024;
/** The runtime itself, its code and what it has not given back yet. */
const BASE_MEGABYTES = 256;
const SAID_CHARACTERS = 2_000;

/**
 * Workers are processes, not threads: a thread that asks for far more memory than it has left takes the whole server
 * with it, a process only itself. They end with the server, however that ends.
 */
export class ProcessPool {
  private readonly idle: Worker[] = [];
  private readonly busy = new Set<Worker>();
  private readonly queue: Waiting[] = [];
  private isDestroyed = false;

  constructor(private readonly options: ProcessPoolOptions) {}

  /** Has an order carried out; `signal` ends it, in the middle of it if need be. @throws {WorkError} */
  run(order: WorkOrder, signal: AbortSignal): Promise<unknown> {
    return new Promise((resolve, reject) => {
      if (signal.aborted) return reject(aborted());
      const { mostWaiting, mostWorkers } = this.options;
      if (this.busy.size >= mostWorkers && this.queue.length >= mostWaiting) {
        return reject(new WorkError('queue-full', `${mostWaiting} orders are waiting already`));
      }
      const onAbort = () => {
        const at = this.queue.indexOf(waiting);
        if (at >= 0) this.queue.splice(at, 1);
        reject(aborted());
      };
      const leaveQueue = () => signal.removeEventListener('abort', onAbort);
      const waiting: Waiting = { order, signal, resolve, reject, leaveQueue };
      this.queue.push(waiting);
      signal.addEventListener('abort', onAbort, { once: true });
      this.next();
    });
  }

  /** Ends all workers; what waits or runs is rejected. */
  destroy(): void {
    this.isDestroyed = true;
    for (const { reject } of this.queue.splice(0)) reject(new WorkError('ended', 'the pool was closed'));
    for (const worker of [...this.idle.splice(0), ...this.busy]) worker.process.kill('SIGKILL');
  }

  private next(): void {
    if (this.isDestroyed || this.queue.length === 0 || this.busy.size >= this.options.mostWorkers) return;
    const waiting = this.queue.shift() as Waiting;
    waiting.leaveQueue();
    const worker = this.idle.pop() ?? this.startWorker();
    if (worker.idleTimer) clearTimeout(worker.idleTimer);
    this.busy.add(worker);
    void this.carryOut(worker, waiting)
      .then(waiting.resolve, waiting.reject)
      .finally(() => {
        this.busy.delete(worker);
        this.rest(worker);
        this.next();
      });
  }

  private async carryOut(worker: Worker, { order, signal }: Waiting): Promise<unknown> {
    const folder = path.join(os.tmpdir(), `${WORK_FOLDER_PREFIX}${process.pid}-${randomUUID()}`);
    try {
      const parcel: Parcel = { ...(await stow(order, folder)), folder };
      return await unstow(await this.exchange(worker, parcel, signal), this.options.onBytes);
    } finally {
      await rm(folder, { recursive: true, force: true });
    }
  }

  /** Sends an order to a worker and waits for its answer. */
  private exchange(worker: Worker, parcel: Parcel, signal: AbortSignal): Promise<StowedMessage> {
    const { memoryMegabytes, timeoutMs } = this.options;
    const { process: child } = worker;
    return new Promise((resolve, reject) => {
      let ending: WorkError | null = null;
      const end = (error: WorkError) => {
        ending ??= error;
        child.kill('SIGKILL');
      };
      const onAbort = () => end(aborted());
      const timer = setTimeout(() => end(new WorkError('too-slow', `not done after ${timeoutMs} ms`)), timeoutMs);
      const watch = setInterval(() => {
        if (residentMegabytes(child.pid) > memoryMegabytes * 2 + BASE_MEGABYTES) end(outOfMemory());
      }, LOOK_MS);
      const stop = () => {
        clearTimeout(timer);
        clearInterval(watch);
        signal.removeEventListener('abort', onAbort);
        child.removeAllListeners('message').removeAllListeners('exit').removeAllListeners('error');
      };
      signal.addEventListener('abort', onAbort, { once: true });
      if (signal.aborted) onAbort();
      child.once('message', (answer) => {
        stop();
        resolve(answer as StowedMessage);
      });
      child.once('exit', (code, cause) => {
        stop();
        const isHeap = cause === 'SIGABRT' || code === 134 || /heap out of memory/i.test(worker.said);
        reject(
          ending ??
            (isHeap ? outOfMemory() : new WorkError('ended', `the worker ended (${cause ?? code}) ${worker.said}`)),
        );
      });
      child.once('error', (error) => {
        stop();
        reject(new WorkError('ended', error.message));
      });
      child.send(parcel, (error) => {
        if (error) end(new WorkError('ended', error.message));
      });
    });
  }

  private rest(worker: Worker): void {
    const { process: child } = worker;
    if (this.isDestroyed || child.exitCode !== null || child.signalCode !== null || !child.connected) {
      child.kill('SIGKILL');
      return;
    }
    const leave = () => {
      const at = this.idle.indexOf(worker);
      if (at >= 0) this.idle.splice(at, 1);
    };
    worker.idleTimer = setTimeout(() => {
      leave();
      child.kill('SIGKILL');
    }, this.options.idleMs);
    worker.idleTimer.unref();
    // One that ends while it rests is not given work.
    child.once('exit', leave);
    this.idle.push(worker);
  }

  private startWorker(): Worker {
    const { entry, memoryMegabytes } = this.options;
    const runtime = [process.execPath, `--max-old-space-size=${memoryMegabytes}`, entry];
    const child = spawn('setpriv', ['--pdeathsig=KILL', ...runtime], {
      stdio: ['ignore', 'ignore', 'pipe', 'ipc'],
      serialization: 'advanced',
      env: { ...process.env, YARVO_WORKER_MEMORY_MB: String(memoryMegabytes) },
    });
    const worker: Worker = { process: child, said: '', idleTimer: null };
    child.stderr?.on('data', (chunk: Buffer) => {
      worker.said = (worker.said + chunk.toString()).slice(-SAID_CHARACTERS);
    });
    // A worker that rests does not keep the process going that it works for.
    child.unref();
    child.channel?.unref();
    (child.stderr as unknown as { unref?: () => void } | null)?.unref?.();
    return worker;
  }
}

const aborted = (): WorkError => new WorkError('aborted', 'the order was taken back');
const outOfMemory = (): WorkError => new WorkError('too-much-memory', 'the worker needed more memory than it may have');

/** Memory of a process that is in use; 0 for one that is gone. Pages are 4 KB on the machines that are supported. */
function residentMegabytes(pid: number | undefined): number {
  try {
    return (Number(readFileSync(`/proc/${pid}/statm`, 'utf8').split(' ')[1]) * 4096) / MEGABYTE;
  } catch {
    return 0;
  }
}
