import path from 'node:path';
import { Worker } from 'node:worker_threads';
import { YarvoError } from '@/core/errors/yarvo-error';
import type { JudgeAnswers, JudgedReading, JudgeMessage, JudgeOrder, JudgeReply } from '@/workers/server/judge-tasks';
import { readConfig } from '../settings/config';
import { processWide } from '../settings/process-wide';
import { log } from '../log/logger';

/** Longer than the slowest answer on the largest rig by far: who takes this long hangs. */
const PATIENCE_MS = 30_000;
const HEAP_MEGABYTES = 512;

interface Asked {
  readonly message: JudgeMessage;
  readonly reading: JudgedReading;
  readonly resolve: (envelope: Extract<JudgeReply, { kind: 'answer' }>['envelope']) => void;
  readonly reject: (error: unknown) => void;
  timer: NodeJS.Timeout | null;
}

/** Asks the thread that judges fits; starts it when it is first asked, and again where it ended. */
class JudgeThread {
  private worker: Worker | null = null;
  private lastId = 0;
  private readonly asked = new Map<number, Asked>();
  /** Readings never change, and many orders are about one: each is sent once. */
  private readonly idOf = new WeakMap<JudgedReading['match'], number>();
  private sent = new Set<number>();

  ask(
    order: JudgeOrder,
    reading: JudgedReading,
    bytes: number,
  ): Promise<Extract<JudgeReply, { kind: 'answer' }>['envelope']> {
    const readingId = this.idOf.get(reading.match) ?? ++this.lastId;
    this.idOf.set(reading.match, readingId);
    return new Promise((resolve, reject) => {
      const message: JudgeMessage = { id: ++this.lastId, order, readingId, reading: null, bytes };
      this.asked.set(message.id, { message, reading, resolve, reject, timer: null });
      this.send(message.id, !this.sent.has(readingId));
    });
  }

  private send(id: number, isWhole: boolean): void {
    const asked = this.asked.get(id);
    if (!asked) return;
    const { rig, match, normalisation, origins } = asked.reading;
    asked.timer ??= setTimeout(() => this.giveUp(asked), PATIENCE_MS);
    asked.timer.unref();
    this.start().postMessage({ ...asked.message, reading: isWhole ? { rig, match, normalisation, origins } : null });
    this.sent.add(asked.message.readingId);
  }

  private start(): Worker {
    if (this.worker) return this.worker;
    const entry = path.join(readConfig().workers.folder, 'judge.mjs');
    const limits = { resourceLimits: { maxOldGenerationSizeMb: HEAP_MEGABYTES } };
    // The framework's bundler would look for a written-out "new Worker" when it builds; the entry is known when it runs.
    const worker = Reflect.construct(Worker, [entry, limits]) as Worker;
    worker.unref();
    worker.on('message', (reply: JudgeReply) => {
      if (reply.kind === 'unknown-reading') return this.send(reply.id, true);
      const asked = this.take(reply.id);
      asked?.resolve(reply.envelope);
    });
    worker.on('error', (error) => this.end(worker, error));
    worker.on('exit', () => this.end(worker, new Error('the thread that judges ended')));
    this.worker = worker;
    return worker;
  }

  private take(id: number): Asked | null {
    const asked = this.asked.get(id) ?? null;
    if (asked?.timer) clearTimeout(asked.timer);
    this.asked.delete(id);
    return asked;
  }

  /** What waited behind the one that hangs is asked again. */
  private giveUp({ message, reject }: Asked): void {
    this.take(message.id);
    reject(tooSlow(message.order.name));
    const waiting = [...this.asked.keys()];
    this.stop();
    for (const id of waiting) this.send(id, true);
  }

  private end(worker: Worker, error: unknown): void {
    if (this.worker !== worker) return;
    this.worker = null;
    this.sent = new Set();
    for (const id of [...this.asked.keys()]) this.take(id)?.reject(error);
  }

  stop(): void {
    const { worker } = this;
    this.worker = null;
    this.sent = new Set();
    void worker?.terminate();
  }
}

const tooSlow = (place: string): YarvoError =>
  new YarvoError({
    code: 'too-slow',
    message: `Judging the fit was not done after ${PATIENCE_MS / 1000} s, so it was given up.`,
    place,
    remedy: 'Try again; if it returns, keep the file: it triggers a fault in Yarvo.',
  });

const thread = (): JudgeThread => processWide('judge thread', () => new JudgeThread());

/**
 * Has something worked out about a fit on a reading, beside the thread that serves everybody.
 * @param bytes roughly what the reading takes.
 * @throws {YarvoError}
 */
export async function askJudge<Name extends JudgeOrder['name']>(
  order: Extract<JudgeOrder, { name: Name }>,
  reading: JudgedReading,
  bytes: number,
): Promise<JudgeAnswers[Name]> {
  const envelope = await thread().ask(order, reading, bytes);
  if (envelope.ok) return envelope.value as JudgeAnswers[Name];
  if (envelope.problem.code !== 'unexpected') throw new YarvoError(envelope.problem);
  log().error({ problem: envelope.problem, stack: envelope.stack }, 'judging failed');
  throw new Error(envelope.problem.message);
}

export const stopJudge = (): void => thread().stop();
