import { crc32, inflateRawSync } from 'node:zlib';
import { spendBytes } from '@/core/errors/byte-budget';
import { YarvoError } from '@/core/errors/yarvo-error';
import type { SourceFile } from '../files/companions';
import { isZip } from './source-format';
import { findOverlap, readZipDirectory, type ZipEntry } from './zip-directory';

/** A zip that unpacks to more is refused before it is unpacked. */
export const ZIP_LIMITS = { files: 2_000, bytes: 512 * 1024 * 1024, ratio: 200, milliseconds: 30_000 } as const;

const STORED = 0;
const DEFLATED = 8;

/**
 * Files of a zip, each of the size and the checksum that the zip states. Names are only labels here; ones that point
 * out of the archive are refused all the same.
 * @param now clock in milliseconds, for tests.
 * @throws {YarvoError}
 */
export function unzip(bytes: Uint8Array, place: string, now: () => number = () => performance.now()): SourceFile[] {
  const fail = (code: string, message: string, remedy = 'Pack the files again.'): never => {
    throw new YarvoError({ code, message, place, remedy });
  };
  const damaged = (why: string): never =>
    fail('bad-zip', `The zip cannot be unpacked: ${why}.`, 'Copy or pack it again; it is damaged or cut off.');
  const started = now();
  const entries = filesOf(readDirectory(bytes, damaged), fail);
  const overlap = findOverlap(entries);
  if (overlap) damaged(`"${shown(overlap[0].name)}" and "${shown(overlap[1].name)}" lie on one another`);
  const unpacked = entries.map((entry): SourceFile => {
    // Inflating is bounded by the sizes that were claimed, and those by the limit; a slow machine is bounded by time.
    if (now() - started > ZIP_LIMITS.milliseconds) {
      fail(
        'too-slow',
        `Unpacking was not done after ${ZIP_LIMITS.milliseconds / 1000} s.`,
        'Zip one character at a time.',
      );
    }
    spendBytes(entry.bytes, place);
    return { path: entry.name.replaceAll('\\', '/'), bytes: contentOf(entry, bytes, damaged) };
  });
  if (unpacked.length === 0) fail('empty-file', 'The zip holds no files.');
  if (unpacked.some((file) => isZip(file.bytes))) {
    fail('nested-zip', 'The zip holds another zip.', 'Unpack the inner one and zip its files directly.');
  }
  return unpacked;
}

type Fail = (code: string, message: string, remedy?: string) => never;

function readDirectory(bytes: Uint8Array, damaged: (why: string) => never): ZipEntry[] {
  try {
    return readZipDirectory(bytes);
  } catch (error) {
    if (error instanceof RangeError) return damaged(error.message);
    throw error;
  }
}

/** Entries that are files, refused where their names or claims are not to be trusted. */
function filesOf(entries: readonly ZipEntry[], fail: Fail): ZipEntry[] {
  const paths = new Set<string>();
  const files: ZipEntry[] = [];
  let total = 0;
  for (const entry of entries) {
    const { name, bytes, packedBytes } = entry;
    if (/^([A-Za-z]:|[\\/])|(^|[\\/])\.\.([\\/]|$)|\0/.test(name)) {
      fail(
        'bad-path',
        `The zip holds a name that points out of it: "${shown(name)}".`,
        'Pack the files again with plain relative names.',
      );
    }
    if (name === '' || name.endsWith('/') || isNoise(name)) continue;
    if (files.push(entry) > ZIP_LIMITS.files) {
      fail('too-many', `The zip holds more than ${ZIP_LIMITS.files} files.`, 'Zip one character at a time.');
    }
    total += bytes;
    if (total > ZIP_LIMITS.bytes) {
      fail(
        'too-large',
        `The zip unpacks to more than ${ZIP_LIMITS.bytes / 1024 / 1024} MB.`,
        'Reduce its textures or split it.',
      );
    }
    if (bytes > 1024 * 1024 && bytes > packedBytes * ZIP_LIMITS.ratio) {
      fail(
        'zip-bomb',
        `"${shown(name)}" claims to unpack to ${ZIP_LIMITS.ratio} times its size and more.`,
        'Pack the file again; no model shrinks that far.',
      );
    }
    if (entry.isEncrypted)
      fail('encrypted-zip', `"${shown(name)}" is locked with a password.`, 'Pack the files again without a password.');
    const path = name.replaceAll('\\', '/');
    if (paths.has(path))
      fail('same-path', `The zip holds "${shown(path)}" twice.`, 'Pack the files again, each name once.');
    paths.add(path);
  }
  return files;
}

function contentOf(entry: ZipEntry, archive: Uint8Array, damaged: (why: string) => never): Uint8Array {
  const name = shown(entry.name);
  const packed = archive.subarray(entry.start, entry.end);
  let content: Uint8Array;
  if (entry.method === STORED) content = packed;
  else if (entry.method === DEFLATED) {
    try {
      content = inflateRawSync(packed, { maxOutputLength: Math.max(1, entry.bytes) });
    } catch (error) {
      const isLonger = (error as { code?: string }).code === 'ERR_BUFFER_TOO_LARGE';
      return damaged(isLonger ? `"${name}" is larger than it says` : `"${name}" is damaged`);
    }
  } else return damaged(`"${name}" is packed by method ${entry.method}, which is not read`);
  if (content.length !== entry.bytes) return damaged(`"${name}" has ${content.length} bytes and says ${entry.bytes}`);
  if (crc32(content) !== entry.crc) return damaged(`"${name}" does not have the checksum that it states`);
  // A copy of its own, whose memory starts with it: readers lay views of numbers over it.
  return Uint8Array.from(content);
}

const shown = (name: string): string => name.slice(0, 100);

/** What operating systems add to archives. */
const isNoise = (name: string): boolean => /(^|\/)(\.|__MACOSX\/|Thumbs\.db$|desktop\.ini$)/i.test(name);
