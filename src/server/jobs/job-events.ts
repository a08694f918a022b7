import { EventEmitter } from 'node:events';
import { processWide } from '../settings/process-wide';
import type { JobRecord } from './job-queue';

/** Jobs that changed, for whoever listens in this process. */
const emitter = processWide('job events', () => new EventEmitter().setMaxListeners(0));

export const tellJob = (job: JobRecord): void => void emitter.emit('job', job);

/** @returns how to stop listening. */
export function onJob(listen: (job: JobRecord) => void): () => void {
  emitter.on('job', listen);
  return () => void emitter.off('job', listen);
}
