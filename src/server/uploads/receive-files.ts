import { createHash, randomUUID } from 'node:crypto';
import { createWriteStream } from 'node:fs';
import { mkdtemp, rm } from 'node:fs/promises';
import os from 'node:os';
import path from 'node:path';
import { Readable, Transform } from 'node:stream';
import { pipeline } from 'node:stream/promises';
import type { ReadableStream as WebStream } from 'node:stream/web';
import busboy from 'busboy';
import { YarvoError } from '@/core/errors/yarvo-error';
import { MAX_FILE_BYTES } from '@/formats/gltf/glb-container';
import { fileOnDisk, type ArrivedFile } from './arrived-file';

/** Files of one upload, all together. */
const MOST_FILES = 2_000;
/** Enough to tell what a file is. */
const START_BYTES = 64;
const LONGEST_HEADER = 64 * 1024;

const FOLDER_PREFIX = 'yarvo-upload-';

/**
 * Writes the files of a request to disk as they come, and hands them to `work`: the body itself under `?name=`, or a form
 * whose parts named "file" carry paths as their file names. What was written is gone afterwards; nothing is held in memory.
 * @throws {YarvoError} where it is too much, cut short, or no upload.
 */
export async function withFilesOf<Value>(
  request: Request,
  work: (files: readonly ArrivedFile[]) => Promise<Value>,
): Promise<Value> {
  const stated = Number(request.headers.get('content-length') ?? 0);
  const type = request.headers.get('content-type') ?? '';
  const isForm = type.startsWith('multipart/form-data');
  const name = new URL(request.url).searchParams.get('name')?.trim() ?? '';
  if (!isForm && name === '') throw unnamed();
  // A form has the headers of its parts beside the files.
  if (stated > MAX_FILE_BYTES + (isForm ? MOST_FILES * 2048 : 0)) throw tooLarge(isForm ? 'upload' : name);
  const folder = await mkdtemp(path.join(os.tmpdir(), `${FOLDER_PREFIX}${process.pid}-`));
  try {
    const intake = new Intake(folder);
    const body = request.body ? Readable.fromWeb(request.body as WebStream) : Readable.from([]);
    const files = isForm ? await readForm(body, type, intake) : [await intake.take(name, body)];
    if (files.length === 0) throw empty();
    return await work(files);
  } finally {
    await rm(folder, { recursive: true, force: true });
  }
}

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
}

function readForm(body: Readable, type: string, intake: Intake): Promise<ArrivedFile[]> {
  return new Promise((resolve, reject) => {
    const parts: Promise<ArrivedFile>[] = [];
    let form: ReturnType<typeof busboy>;
    try {
      form = busboy({
        headers: { 'content-type': type },
        preservePath: true,
        defParamCharset: 'utf8',
        limits: { files: MOST_FILES + 1, fields: 100, fieldSize: LONGEST_HEADER, headerPairs: 200 },
      });
    } catch {
      reject(incomplete());
      return;
    }
    const fail = (error: unknown) => {
      body.unpipe(form);
      body.destroy();
      form.destroy();
      // What is being written has to end before its folder goes.
      void Promise.allSettled(parts).then(() => reject(error instanceof YarvoError ? error : incomplete()));
    };
    form.on('file', (field, stream, { filename }) => {
      if (field !== 'file' || !filename) return void stream.resume();
      if (parts.length >= MOST_FILES) return fail(tooMany());
      const part = intake.take(filename, stream);
      part.catch(fail);
      parts.push(part);
    });
    form.on('error', fail);
    body.on('error', fail);
    form.on('close', () => void Promise.all(parts).then(resolve, fail));
    body.pipe(form);
  });
}

const tooLarge = (place: string): YarvoError =>
  new YarvoError({
    code: 'too-large',
    message: `The ${place === 'upload' ? 'upload' : 'file'} is larger than ${MAX_FILE_BYTES / 1024 / 1024} MB.`,
    place,
    remedy: 'Reduce its textures or split it.',
  });

const tooMany = (): YarvoError =>
  new YarvoError({
    code: 'too-many',
    message: `More than ${MOST_FILES} files at once.`,
    place: 'upload',
    remedy: 'Add them a folder at a time.',
  });

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
