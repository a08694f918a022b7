import { YarvoError } from '@/core/errors/yarvo-error';
import { MAX_FILE_BYTES } from '@/formats/gltf/glb-container';
import type { SourceFile } from '@/formats/files/companions';
import { readBounded } from './read-bounded';

/** Room for the parts' own headers in a form. */
const FORM_OVERHEAD_BYTES = 4 * 1024 * 1024;

/**
 * The files of an upload: the body itself under `?name=`, or a form whose parts named "file" carry paths as their file
 * names. Bounded before it is parsed.
 * @throws {YarvoError}
 */
export async function readUpload(request: Request): Promise<SourceFile[]> {
  const type = request.headers.get('content-type') ?? '';
  if (!type.startsWith('multipart/form-data')) {
    const path = new URL(request.url).searchParams.get('name')?.trim();
    if (!path)
      throw new YarvoError({
        code: 'invalid-request',
        message: 'The file has no name.',
        place: 'name',
        remedy: 'Send ?name= with the upload.',
      });
    return [{ path, bytes: await readBounded(request, MAX_FILE_BYTES, path) }];
  }
  const body = await readBounded(request, MAX_FILE_BYTES + FORM_OVERHEAD_BYTES, 'upload');
  const form = await new Response(body as BodyInit, { headers: { 'content-type': type } }).formData().catch(() => {
    throw new YarvoError({
      code: 'invalid-request',
      message: "The upload's form data is incomplete.",
      place: 'upload',
      remedy: 'Send the files again.',
    });
  });
  const files = await Promise.all(
    form
      .getAll('file')
      .map(async (entry) =>
        typeof entry === 'string' ? null : { path: entry.name, bytes: new Uint8Array(await entry.arrayBuffer()) },
      ),
  );
  const given = files.filter((file) => file !== null);
  if (given.length === 0)
    throw new YarvoError({
      code: 'invalid-request',
      message: 'The upload holds no files.',
      place: 'file',
      remedy: 'Send each file as a part named "file".',
    });
  return given;
}
