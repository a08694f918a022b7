import { listRoster } from '@/server/characters/read-characters';
import { takeIn } from '@/server/characters/take-in';
import { authorOf, guarded } from '@/server/http';
import { readUpload } from '@/server/read-upload';

/** The roster. */
export const GET = (): Promise<Response> => guarded('roster', async () => Response.json({ characters: await listRoster() }));

/** Takes files in: one file as the body with `?name=`, or several as a form. 201 `{ characters, refused }`; 413 too large; 422 unreadable. */
export const POST = (request: Request): Promise<Response> =>
  guarded('upload', async () => Response.json(await takeIn({ files: await readUpload(request), author: authorOf(request) }), { status: 201 }));
