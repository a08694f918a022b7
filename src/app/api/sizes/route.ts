import { SizesBody } from '@/contract/requests';
import { setSize } from '@/server/intake/set-size';
import { authorOf, jsonRoute } from '@/server/http/http';

/** Makes many characters so tall, scales them, or reads their files in a unit. `{ changed, refused }`. */
export const POST = (request: Request): Promise<Response> =>
  jsonRoute(request, 'sizes', SizesBody, async ({ characterIds, size }) =>
    Response.json(await setSize(characterIds, size, authorOf(request))),
  );
