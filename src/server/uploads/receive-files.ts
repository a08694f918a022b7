import { createHash, randomUUID } from 'node:crypto';
import { createWriteStream } from 'node:fs';
import { mkdtemp, rm } from 'node:fs/promises';
import os from 'node:os';
import path from 'node:path';
import { Readable, Transform } from 'node:stream';
import { pipeline } from 'node:stream/promises';
import { setImmediate } from 'node:timers/promises';
import type { ReadableStream as WebStream } from 'node:stream/web';
import busboy from 'busboy';
import { MOST_FILES } from '@/contract/requests';
import { YarvoError, type Problem } from '@/core/errors/yarvo-error';
import { countText } from '@/core/text/count';
import { shortenMiddle } from '@/core/text/shorten';
import { MAX_FILE_BYTES } from '@/formats/gltf/glb-container';
import { fileOnDisk, type ArrivedFile } from './arrived-file';

/** Parts that are counted after the last one that is taken; a form of more is given up. */
const MOST_COUNTED = 100_000;
/** Enough to tell what a file is. */
const START_BYTES = 64;
const LONGEST_HEADER = 64 * 1024;

/** Folders with files on their way in; named after the process that they belong to. */
export const UPLOAD_FOLDER_PREFIX = 'yarvo-upload-';

/** What came of a request: the files that were taken, and what is said of those that were one too many. */
export interface Received {
  readonly files: readonly ArrivedFile[];
  readonly excess: Problem | null;
}

/**
 * Writes the files of a request to disk as they come, and hands them to `work`: the body itself under `?name=`, or a form
 * whose parts named "file" carry paths as their file names. What was written is gone afterwards; nothing is held in memory.
 * @throws {YarvoError} where it is too much, cut short, or no upload.
 */
export async function withFilesOf<Value>(
  request: Request,
  work: (received: Received) => Promise<Value>,
): Promise<Value> {
  const stated = Number(request.headers.get('content-length') ?? 0);
  const type = request.headers.get('content-type') ?? '';
  const isForm = type.startsWith('multipart/form-data');
  const name = new URL(request.url).searchParams.get('name')?.trim() ?? '';
  if (!isForm && name === '') throw unnamed();
  // A form has the headers of its parts beside the files.
  if (stated > MAX_FILE_BYTES + (isForm ? MOST_FILES * 2048 : 0)) throw tooLarge(isForm ? 'upload' : name);
  const folder = await mkdtemp(path.join(os.tmpdir(), `${UPLOAD_FOLDER_PREFIX}${process.pid}-`));
  try {
    const intake = new Intake(folder);
    const body = request.body ? Readable.fromWeb(request.body as WebStream) : Readable.from([]);
    const received = isForm
      ? await readForm(body, type, intake)
      : { files: [await intake.take(name, body)], excess: null };
    if (received.files.length === 0) throw empty();
    return await work(received);
  } finally {
    await rm(folder, { recursive: true, force: true });
  }
}

/** The same for work that needs all files or none. @throws {YarvoError} `too-many` as well. */
export const withAllFilesOf = <Value>(
  request: Request,
  work: (files: readonly ArrivedFile[]) => Promise<Value>,
): Promise<Value> =>
  withFilesOf(request, ({ files, excess }) => {
    if (excess) throw new YarvoError(excess);
    return work(files);
  });

/** Files of one request on their way to disk; what all of them hold together is bounded. */
class Intake {
  private total = 0;

  constructor(private readonly folder: string) {}

  async take(name: string, stream: Readable): Promise<ArrivedFile> {
    const place = path.join(this.folder, randomUUID());
    const hash = createHash('sha256');
    const start: Buffer[] = [];
    let size = 0;
    const watch = new Transform({
      transform: (chunk: Buffer, _, done) => {
        if (size < START_BYTES) start.push(chunk.subarray(0, START_BYTES - size));
        size += chunk.length;
        this.total += chunk.length;
        hash.update(chunk);
        done(this.total > MAX_FILE_BYTES ? tooLarge(name) : null, chunk);
      },
    });
    await pipeline(stream, watch, createWriteStream(place));
    return fileOnDisk(name, place, { hash: hash.digest('hex'), size, start: Buffer.concat(start) });
  }

  /** Lets a file go by that is not taken; it counts all the same. */
  async pass(name: string, stream: Readable): Promise<void> {
    for await (const chunk of stream) {
      this.total += (chunk as Buffer).length;
      if (this.total > MAX_FILE_BYTES) throw tooLarge(name);
    }
  }
}

/** A chunk of the network's size holds some hundred small files, all of which would be begun at once. */
const SLICE_BYTES = 8 * 1024;
const TURN_MS = 8;

/** A body in small slices; whoever else waits goes between them. */
async function* inTurns(body: Readable): AsyncGenerator<Buffer> {
  let since = performance.now();
  for await (const piece of body) {
    const chunk = piece as Buffer;
    for (let at = 0; at < chunk.length; at += SLICE_BYTES) {
      if (performance.now() - since > TURN_MS) {
        await setImmediate();
        since = performance.now();
      }
      yield chunk.subarray(at, at + SLICE_BYTES);
    }
  }
}

function readForm(body: Readable, type: string, intake: Intake): Promise<Received> {
  return new Promise((resolve, reject) => {
    const slices = Readable.from(inTurns(body), { objectMode: false, highWaterMark: SLICE_BYTES });
    const parts: Promise<ArrivedFile>[] = [];
    const passed: Promise<void>[] = [];
    let firstPassed = '';
    let form: ReturnType<typeof busboy>;
    try {
      form = busboy({
        headers: { 'content-type': type },
        preservePath: true,
        defParamCharset: 'utf8',
        limits: { files: MOST_COUNTED, fields: 100, fieldSize: LONGEST_HEADER, headerPairs: 200 },
      });
    } catch {
      reject(incomplete());
      return;
    }
    const fail = (error: unknown) => {
      slices.unpipe(form);
      slices.destroy();
      body.destroy();
      form.destroy();
      // What is being written has to end before its folder goes.
      void Promise.allSettled([...parts, ...passed]).then(() =>
        reject(error instanceof YarvoError ? error : incomplete()),
      );
    };
    form.on('file', (field, stream, { filename }) => {
      // A part that is cut off with its form says so to itself as well; unheard, that would end the process.
      stream.on('error', fail);
      if (field !== 'file' || !filename) return void stream.resume();
      if (parts.length < MOST_FILES) {
        const part = intake.take(filename, stream);
        part.catch(fail);
        parts.push(part);
        return;
      }
      firstPassed ||= filename;
      const pass = intake.pass(filename, stream);
      pass.catch(fail);
      passed.push(pass);
    });
    form.on('filesLimit', () => fail(tooMany(MOST_COUNTED, 'Nothing of it was kept.', 'upload')));
    form.on('error', fail);
    slices.on('error', fail);
    form.on('close', () => {
      void Promise.all([...parts, ...passed])
        .then(() => Promise.all(parts))
        .then((files) => {
          const excess = passed.length === 0 ? null : excessOf(passed.length, firstPassed);
          resolve({ files, excess });
        }, fail);
    });
    slices.pipe(form);
  });
}

const tooLarge = (place: string): YarvoError =>
  new YarvoError({
    code: 'too-large',
    message: `The ${place === 'upload' ? 'upload' : 'file'} is larger than ${MAX_FILE_BYTES / 1024 / 1024} MB.`,
    place,
    remedy: 'Reduce its textures or split it.',
  });

const tooMany = (count: number, fate: string, place: string): YarvoError =>
  new YarvoError({
    code: 'too-many',
    message: `The upload has more than ${count} files. ${fate}`,
    place,
    remedy: 'Add a folder at a time.',
  });

const excessOf = (count: number, first: string): Problem =>
  tooMany(
    MOST_FILES,
    `The first ${MOST_FILES} were taken; ${countText(count, 'file')} from "${shortenMiddle(first, 120)}" on ${count === 1 ? 'was' : 'were'} not.`,
    shortenMiddle(first, 120),
  ).problem;

const unnamed = (): YarvoError =>
  new YarvoError({
    code: 'invalid-request',
    message: 'The file has no name.',
    place: 'name',
    remedy: 'Send ?name= with the upload.',
  });

const empty = (): YarvoError =>
  new YarvoError({
    code: 'invalid-request',
    message: 'The upload holds no files.',
    place: 'file',
    remedy: 'Send each file as a part named "file".',
  });

const incomplete = (): YarvoError =>
  new YarvoError({
    code: 'invalid-request',
    message: "The upload's form data is incomplete.",
    place: 'upload',
    remedy: 'Send the files again.',
  });
