import { shortenMiddle } from '@/core/text/shorten';
import { YarvoError } from '@/core/errors/yarvo-error';
import { lastPart } from '@/formats/files/companions';
import { isModel } from '@/core/intake/file-names';

/** What the database has room for. */
const NAME_LIMITS = { path: 300, fileName: 255 } as const;

/** @throws {YarvoError} `name-too-long` */
export function assertName(path: string): void {
  const fileName = lastPart(path);
  const fail = (what: string, length: number, limit: number): never => {
    throw new YarvoError({
      code: 'name-too-long',
      message: `The ${what} has ${length} characters; ${limit} is the limit.`,
      place: shortenMiddle(path, 120),
      remedy: 'Give the file a shorter name, or move it into fewer folders, and drop it again.',
    });
  };
  if (fileName.length > NAME_LIMITS.fileName) fail("file's name", fileName.length, NAME_LIMITS.fileName);
  if (path.length > NAME_LIMITS.path) fail("file's path", path.length, NAME_LIMITS.path);
}

/** A file of an upload, as far as its name goes. */
interface NamedFile {
  readonly path: string;
  readonly hash: string;
  readonly isZip: boolean;
}

/**
 * Files under plain paths, each path once: the same file sent twice counts once; another model of the same name gets a
 * number, so that each is read with its own bytes.
 * @throws {YarvoError} where a path is too long, or two companions of one name differ and none could be told apart.
 */
export function distinctFiles<File extends NamedFile>(files: readonly File[]): File[] {
  const byPath = new Map<string, File>();
  const seen = new Set<string>();
  for (const file of files) {
    const path = plainPath(file.path);
    const key = `${file.hash} ${path}`;
    if (seen.has(key)) continue;
    seen.add(key);
    const free = byPath.has(path) ? numbered({ ...file, path }, byPath) : { ...file, path };
    assertName(free.path);
    byPath.set(free.path, free);
  }
  return [...byPath.values()];
}

function numbered<File extends NamedFile>(file: File, taken: ReadonlyMap<string, File>): File {
  if (!isModel(file.path) && !file.isZip) {
    throw new YarvoError({
      code: 'same-path',
      message: `Two files of the upload are called "${shortenMiddle(file.path, 120)}" and differ.`,
      place: shortenMiddle(file.path, 120),
      remedy: 'Rename one of them, or send each with its own model.',
    });
  }
  const [, stem, ending] = /^(.*?)(\.[^./]*)?$/s.exec(file.path) as unknown as [string, string, string | undefined];
  for (let count = 2; ; count++) {
    const path = `${stem} (${count})${ending ?? ''}`;
    if (!taken.has(path)) return { ...file, path };
  }
}

/** Forward slashes, no way up, no drive: a label that never reaches the file system. */
function plainPath(path: string): string {
  const visible = path.replace(/[\p{C}]/gu, '');
  const parts = visible
    .replaceAll('\\', '/')
    .split('/')
    .filter((part) => part !== '' && part !== '.' && part !== '..' && !/^[A-Za-z]:$/.test(part));
  return parts.join('/') || 'file';
}

/** "eel-seller.glb" -> "Eel seller". */
export function nameFrom(fileName: string): string {
  const words =
    fileName
      .replace(/\.[A-Za-z0-9]{1,5}$/, '')
      .replace(/[_\-.]+/g, ' ')
      .trim() || 'Character';
  return (words[0].toUpperCase() + words.slice(1)).slice(0, 150);
}
