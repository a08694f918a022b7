import { unzipSync } from 'fflate';
import { YarvoError } from '@/core/errors/yarvo-error';
import type { SourceFile } from './companions';
import { isZip } from './source-format';

/** A zip that unpacks to more is refused before it is unpacked. */
export const ZIP_LIMITS = { files: 2_000, bytes: 512 * 1024 * 1024, ratio: 200 } as const;

/**
 * Files of a zip. Names are only labels here; ones that point out of the archive are refused all the same.
 * @throws {YarvoError}
 */
export function unzip(bytes: Uint8Array, place: string): SourceFile[] {
  const fail = (code: string, message: string, remedy = 'Pack the files again.'): never => {
    throw new YarvoError({ code, message, place, remedy });
  };
  let [count, total] = [0, 0];
  let files: Record<string, Uint8Array>;
  try {
    files = unzipSync(bytes, {
      filter: ({ name, originalSize, size }) => {
        if (/^([A-Za-z]:|[\\/])|(^|[\\/])\.\.([\\/]|$)|\0/.test(name)) fail('bad-path', `The zip holds a name that points out of it: "${name.slice(0, 100)}".`, 'Pack the files again with plain relative names.');
        if (name === '' || name.endsWith('/') || isNoise(name)) return false;
        if (++count > ZIP_LIMITS.files) fail('too-many', `The zip holds more than ${ZIP_LIMITS.files} files.`, 'Zip one character at a time.');
        total += originalSize;
        if (total > ZIP_LIMITS.bytes) fail('too-large', `The zip unpacks to more than ${ZIP_LIMITS.bytes / 1024 / 1024} MB.`, 'Reduce its textures or split it.');
        if (originalSize > 1024 * 1024 && originalSize > size * ZIP_LIMITS.ratio) fail('zip-bomb', `"${name.slice(0, 100)}" claims to unpack to ${ZIP_LIMITS.ratio} times its size and more.`, 'Pack the file again; no model shrinks that far.');
        return true;
      },
    });
  } catch (error) {
    if (error instanceof YarvoError) throw error;
    return fail('bad-zip', `The zip cannot be unpacked: ${(error as Error).message}.`, 'Copy or pack it again; it is damaged or cut off.');
  }
  const unpacked = Object.entries(files).map(([name, content]): SourceFile => ({ path: name.replaceAll('\\', '/'), bytes: content }));
  if (unpacked.length === 0) fail('empty-file', 'The zip holds no files.');
  if (unpacked.some((file) => isZip(file.bytes))) fail('nested-zip', 'The zip holds another zip.', 'Unpack the inner one and zip its files directly.');
  return unpacked;
}

/** What operating systems add to archives. */
const isNoise = (name: string): boolean => /(^|\/)(\.|__MACOSX\/|Thumbs\.db$|desktop\.ini$)/i.test(name);
