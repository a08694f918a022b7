import { YarvoError } from './yarvo-error';

let leftBytes = Infinity;
let limitBytes = Infinity;

/**
 * Begins a piece of work that may allocate so many bytes for arrays. Readers say what they are about to allocate, since
 * typed arrays lie outside of the heap that a worker's own limit counts. One budget a thread.
 */
export function startByteBudget(bytes: number): void {
  limitBytes = bytes;
  leftBytes = bytes;
}

/**
 * Says that so many bytes are about to be allocated; what is freed again in between is not given back, since nobody
 * knows when that happens.
 * @throws {YarvoError} `too-much-memory` where the budget does not allow for it.
 */
export function spendBytes(bytes: number, place: string): void {
  leftBytes -= bytes;
  if (leftBytes >= 0) return;
  throw new YarvoError({
    code: 'too-much-memory',
    message: `The file needs more than ${Math.round(limitBytes / 1024 / 1024)} MB for its arrays.`,
    place,
    remedy: 'Reduce the file, or raise YARVO_WORKER_MEMORY_MB.',
  });
}
