import { z } from 'zod';
import { problemOf, YarvoError, type Problem } from '@/core/errors/yarvo-error';
import type { ChangeResult } from './fits/change-fit';

export const CharacterParams = z.object({ characterId: z.uuid() });
export type CharacterContext = { params: Promise<{ characterId: string }> };

/** Name under which changes are recorded; from the `yarvo-who` cookie, chosen in the top bar. */
export function authorOf(request: Request): string {
  const cookie = request.headers.get('cookie') ?? '';
  const match = /(?:^|;\s*)yarvo-who=([^;]*)/.exec(cookie);
  try {
    return decodeURIComponent(match?.[1] ?? '').replace(/[\p{C}]/gu, '').trim().slice(0, 80) || 'you';
  } catch {
    return 'you';
  }
}

export const errorResponse = (status: number, problem: Problem, extra: object = {}): Response => Response.json({ error: problem, ...extra }, { status });

const STATUS_OF: Readonly<Record<string, number>> = { 'invalid-request': 400, blocked: 409, 'changed-meanwhile': 409, 'too-large': 413, 'queue-full': 503, unexpected: 500 };

/** Any failure as the one error shape; expected ones as 422 unless their code says otherwise. */
export function failureResponse(error: unknown, place: string): Response {
  const problem = problemOf(error, place);
  return errorResponse(STATUS_OF[problem.code] ?? (error instanceof YarvoError ? 422 : 500), problem);
}

export const notFound = (message = 'There is no such character.'): Response =>
  errorResponse(404, { code: 'not-found', message, place: 'address', remedy: 'Go back to the roster and pick it there.' });

export function invalidRequest(issues: readonly { path: PropertyKey[]; message: string }[]): Response {
  const place = issues.map((issue) => issue.path.map(String).join('.') || 'body').join(', ');
  return errorResponse(400, { code: 'invalid-request', message: issues.map((issue) => issue.message).join(' '), place, remedy: 'Correct the named fields and send again.' });
}

/** Runs a handler; what it throws becomes a response, so that the server never falls over. */
export async function guarded(place: string, work: () => Promise<Response>): Promise<Response> {
  try {
    return await work();
  } catch (error) {
    return failureResponse(error, place);
  }
}

const CHANGE_STATUS = { 'not-found': 404, conflict: 409, 'not-possible': 422 } as const;

/** 200 with the new fit; 409 with the newer one when the sender was behind. */
export function changeResponse(result: ChangeResult): Response {
  if (result.ok) return Response.json({ fit: result.fit });
  const remedy = result.code === 'conflict' ? 'Look at what changed and repeat your change if it is still wanted.' : 'Nothing was changed.';
  return errorResponse(CHANGE_STATUS[result.code], { code: result.code, message: result.message, place: 'fit', remedy }, result.fit ? { fit: result.fit } : {});
}

/** A change of a fit over HTTP: address and body are checked, the change is made, its outcome becomes the response. */
export const fitRoute = <Body>(
  request: Request,
  context: CharacterContext,
  schema: z.ZodType<Body>,
  change: (characterId: string, body: Body, author: string) => Promise<ChangeResult>,
): Promise<Response> =>
  guarded('fit', async () => {
    const params = CharacterParams.safeParse(await context.params);
    if (!params.success) return notFound();
    const body = schema.safeParse(await request.json().catch(() => undefined));
    if (!body.success) return invalidRequest(body.error.issues);
    return changeResponse(await change(params.data.characterId, body.data, authorOf(request)));
  });
