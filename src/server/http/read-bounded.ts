import { YarvoError } from '@/core/errors/yarvo-error';

/** The body of a request, given up as soon as it grows past `limitBytes`. @throws {YarvoError} `too-large` */
export async function readBounded(
  request: Request,
  limitBytes: number,
  place: string,
  remedy = 'Reduce its textures or split it.',
): Promise<Uint8Array> {
  const what = place === 'body' ? 'request' : 'file';
  const message = `The ${what} is larger than ${Math.floor(limitBytes / 1024 / 1024)} MB.`;
  const tooLarge = () => new YarvoError({ code: 'too-large', message, place, remedy });
  if (Number(request.headers.get('content-length') ?? 0) > limitBytes) throw tooLarge();
  const chunks: Uint8Array[] = [];
  let size = 0;
  const reader = request.body?.getReader();
  while (reader) {
    const { done, value } = await reader.read();
    if (done) break;
    size += value.length;
    if (size > limitBytes) {
      await reader.cancel();
      throw tooLarge();
    }
    chunks.push(value);
  }
  const out = new Uint8Array(size);
  let at = 0;
  for (const chunk of chunks) {
    out.set(chunk, at);
    at += chunk.length;
  }
  return out;
}
