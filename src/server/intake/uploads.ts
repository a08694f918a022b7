import type { Added } from '@/contract/character-view';
import { YarvoError } from '@/core/errors/yarvo-error';
import { processWide } from '../settings/process-wide';
import { receive, type Arrival, type IntakeRequest } from './add-files';

interface Upload {
  readonly abort: AbortController;
  /** What is kept of it once it has ended; never rejects. */
  readonly kept: Promise<readonly Added[]>;
}

const uploads = processWide('uploads', () => new Map<string, Upload>());
/** How long the end of an upload is known, for a cancel that crossed its answer. */
const KNOWN_FOR_MS = 5 * 60_000;

/**
 * Adds the files of an upload under a name that its sender gave it, by which it can be cancelled.
 * @throws {YarvoError}
 */
export async function receiveUpload(uploadId: string | null, request: IntakeRequest): Promise<Arrival> {
  if (uploadId === null) return receive(request);
  if (uploads.has(uploadId)) throw taken(uploadId);
  const abort = new AbortController();
  const signal = request.signal ? AbortSignal.any([request.signal, abort.signal]) : abort.signal;
  const arrival = receive({ ...request, signal });
  const kept = arrival.then(
    ({ outcome }) => outcome.characters,
    () => [],
  );
  uploads.set(uploadId, { abort, kept });
  void kept.then(() => setTimeout(() => uploads.delete(uploadId), KNOWN_FOR_MS).unref());
  return arrival;
}

/** Ends an upload. @returns what is kept of it all the same: all of it, where it had ended before. */
export async function cancelUpload(uploadId: string): Promise<readonly Added[]> {
  const upload = uploads.get(uploadId);
  upload?.abort.abort();
  return (await upload?.kept) ?? [];
}

const taken = (place: string): YarvoError =>
  new YarvoError({
    code: 'invalid-request',
    message: 'An upload with this id is already running.',
    place,
    remedy: 'Give each upload an id of its own.',
  });
