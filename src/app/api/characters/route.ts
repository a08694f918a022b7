import { MAX_FILE_BYTES } from '@/formats/gltf/glb-container';
import { listRoster } from '@/server/characters/read-characters';
import { takeIn } from '@/server/characters/take-in';
import { authorOf, errorResponse, guarded } from '@/server/http';
import { readBounded } from '@/server/read-bounded';

/** The roster. */
export const GET = (): Promise<Response> => guarded('roster', async () => Response.json({ characters: await listRoster() }));

/** Takes a file in. The body is the file; `?name=` is what it is called. 201 `{ id, name }`; 413 too large; 422 unreadable. */
export const POST = (request: Request): Promise<Response> =>
  guarded('upload', async () => {
    const fileName = new URL(request.url).searchParams.get('name')?.trim();
    if (!fileName) return errorResponse(400, { code: 'invalid-request', message: 'The file has no name.', place: 'name', remedy: 'Send ?name= with the upload.' });
    const bytes = await readBounded(request, MAX_FILE_BYTES, fileName);
    return Response.json(await takeIn({ bytes, fileName, author: authorOf(request) }), { status: 201 });
  });
