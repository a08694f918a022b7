import { YarvoError } from '@/core/errors/yarvo-error';
import { decoded, type Companions } from '../files/companions';

/** Longest reference that is looked up; data URIs aside. */
const MAX_REFERENCE = 2_000;

/** True for an address of the net, of a drive, or longer than any name. */
export const isOutside = (uri: string): boolean =>
  /^(?!data:)[a-z][a-z0-9+.-]*:|^\/\//i.test(uri) || (uri.length > MAX_REFERENCE && !/^data:/i.test(uri));

/**
 * Bytes behind a glTF reference: a data URI, or a file that came along. Nothing is ever fetched.
 * @returns null where the file is not at hand.
 * @throws {YarvoError} `external-uri` for an address outside the upload.
 */
export function resolveUri(uri: string, from: string, companions: Companions, at: string): Uint8Array | null {
  const data = /^data:[^,]{0,200}?(;base64)?,/i.exec(uri);
  if (data) {
    const content = uri.slice(data[0].length);
    return new Uint8Array(data[1] ? Buffer.from(content, 'base64') : Buffer.from(decoded(content), 'latin1'));
  }
  if (isOutside(uri)) {
    throw new YarvoError({
      code: 'external-uri',
      message: `The file keeps a part of itself at "${uri.slice(0, 60)}", which is never fetched.`,
      place: at,
      remedy: 'Put that file beside it and export with relative paths, or export one self-contained .glb.',
    });
  }
  return companions.find(uri, from)?.bytes ?? null;
}
