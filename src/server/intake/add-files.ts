import { randomUUID } from 'node:crypto';
import type { Added, IntakeOutcome } from '@/contract/character-view';
import { YarvoError } from '@/core/errors/yarvo-error';
import type { SourceFile } from '@/formats/files/companions';
import { distinctFiles } from '../characters/upload-paths';
import { inTransaction } from '../database/transaction';
import { fileAtHand } from '../uploads/arrived-file';
import { dropUpload, insertUpload } from '../uploads/upload-repository';
import { takeBack, takeIn } from './take-in';

export interface IntakeRequest {
  readonly files: readonly SourceFile[];
  readonly author: string;
  /** Ends the work; nothing of the upload is kept then. */
  readonly signal?: AbortSignal;
}

/**
 * Takes files in at once, without a job: for callers that wait for the outcome, like the demo.
 * @throws {YarvoError} where nothing of them can be read; `cancelled` where the sender ended it, nothing kept.
 */
export async function addFiles({ files, author, signal }: IntakeRequest): Promise<IntakeOutcome> {
  const given = distinctFiles(files.map(({ path, bytes }) => fileAtHand(path, bytes)));
  const uploadId = randomUUID();
  await inTransaction((transaction) => insertUpload(uploadId, given, author, transaction));
  const made: { outcome: IntakeOutcome } = { outcome: { characters: [], refused: [] } };
  try {
    const keep = async (outcome: IntakeOutcome) => void (made.outcome = outcome);
    return await takeIn(uploadId, { author, signal, keep });
  } catch (error) {
    if (signal?.aborted) await takeBack(made.outcome);
    await dropUpload(uploadId);
    throw signal?.aborted ? cancelled(given[0].path) : error;
  }
}

/** A single file as one character. @throws {YarvoError} */
export async function addFile({
  bytes,
  fileName,
  author,
}: {
  bytes: Uint8Array;
  fileName: string;
  author: string;
}): Promise<Added> {
  return (await addFiles({ files: [{ path: fileName, bytes }], author })).characters[0];
}

const cancelled = (place: string): YarvoError =>
  new YarvoError({
    code: 'cancelled',
    message: 'Cancelled; nothing was kept.',
    place,
    remedy: 'Drop the file again if it is wanted.',
  });
