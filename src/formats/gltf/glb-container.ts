import { YarvoError } from '@/core/errors/yarvo-error';
import { parseGltfJson } from './parse-json';

/** Largest file that is read, bytes. Bigger ones are refused before anything is parsed. */
export const MAX_FILE_BYTES = 256 * 1024 * 1024;

const MAGIC = 0x46546c67;
const JSON_CHUNK = 0x4e4f534a;
const BIN_CHUNK = 0x004e4942;
const HEADER_BYTES = 12;
const CHUNK_HEADER_BYTES = 8;

export interface GlbContainer {
  readonly json: Record<string, unknown>;
  readonly binary: Uint8Array | null;
}

export const isGlb = (bytes: Uint8Array): boolean =>
  bytes.length >= 4 && bytes[0] === 0x67 && bytes[1] === 0x6c && bytes[2] === 0x54 && bytes[3] === 0x46;

/**
 * Splits a GLB into its JSON and its binary chunk, checking every length before it is trusted.
 * Source: glTF 2.0 specification, section 4 (GLB file format).
 *
 * @param place file name, for the error.
 * @throws {YarvoError} naming the damage and its byte position.
 */
export function readGlbContainer(bytes: Uint8Array, place: string): GlbContainer {
  const fail = (code: string, message: string, at: string, remedy: string): never => {
    throw new YarvoError({ code, message, place: at ? `${place}, ${at}` : place, remedy });
  };
  if (bytes.length === 0)
    fail('empty-file', 'The file is empty.', '', 'Export it again; the upload arrived with 0 bytes.');
  if (bytes.length > MAX_FILE_BYTES) {
    fail(
      'too-large',
      `The file has ${megabytes(bytes.length)} MB; ${megabytes(MAX_FILE_BYTES)} MB is the limit.`,
      '',
      'Reduce its textures or split it.',
    );
  }
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  if (bytes.length < 4 || view.getUint32(0, true) !== MAGIC) {
    fail(
      'not-glb',
      'This is not a GLB file: it does not start with "glTF".',
      'byte 0',
      'Export as binary glTF 2.0 (.glb) and drop that file.',
    );
  }
  if (bytes.length < HEADER_BYTES + CHUNK_HEADER_BYTES) {
    fail(
      'truncated',
      `The file ends inside its header, after ${bytes.length} bytes.`,
      `byte ${bytes.length}`,
      'Copy or export the file again; it was cut off.',
    );
  }
  const version = view.getUint32(4, true);
  if (version !== 2)
    fail('unsupported-version', `This is GLB version ${version}; version 2 is read.`, 'byte 4', 'Export as glTF 2.0.');
  const declared = view.getUint32(8, true);
  if (declared > bytes.length) {
    fail(
      'truncated',
      `The header promises ${declared} bytes, the file has ${bytes.length}.`,
      `byte ${bytes.length}`,
      'Copy or export the file again; it was cut off.',
    );
  }
  let json: Record<string, unknown> | null = null;
  let binary: Uint8Array | null = null;
  for (let at = HEADER_BYTES; at + CHUNK_HEADER_BYTES <= declared;) {
    const length = view.getUint32(at, true);
    const type = view.getUint32(at + 4, true);
    const start = at + CHUNK_HEADER_BYTES;
    if (start + length > declared) {
      fail(
        'truncated',
        `A chunk of ${length} bytes does not fit in the file.`,
        `byte ${at}`,
        'Copy or export the file again; it was cut off or altered.',
      );
    }
    if (type === JSON_CHUNK && !json)
      json = parseGltfJson(bytes.subarray(start, start + length), `${place}, byte ${start}`);
    else if (type === BIN_CHUNK && !binary) binary = bytes.subarray(start, start + length);
    at = start + length + ((4 - (length % 4)) % 4);
  }
  if (!json) fail('no-json', 'The file has no JSON chunk.', `byte ${HEADER_BYTES}`, 'Export the file again.');
  return { json: json as unknown as Record<string, unknown>, binary };
}

const megabytes = (bytes: number): string => (bytes / 1024 / 1024).toFixed(0);
