import { nestsDeeper } from '@/core/text/json-depth';
import { randomUUID } from 'node:crypto';
import { after } from 'next/server';
import type { z } from 'zod';
import { CharacterParams } from '@/contract/requests';
import { YarvoError, type Problem } from '@/core/errors/yarvo-error';
import type { ChangeResult, RefusalCode } from '../fits/change-fit';
import { log } from '../log/logger';
import { problemFor } from '../log/problem-for';
import { readBounded } from './read-bounded';

export type CharacterContext = { params: Promise<{ characterId: string }> };

/** Name under which changes are recorded; from the `yarvo-who` cookie, chosen in the top bar. */
export function authorOf(request: Request): string {
  const cookie = request.headers.get('cookie') ?? '';
  const match = /(?:^|;\s*)yarvo-who=([^;]*)/.exec(cookie);
  try {
    return (
      decodeURIComponent(match?.[1] ?? '')
        .replace(/[\p{C}]/gu, '')
        .trim()
        .slice(0, 80) || 'you'
    );
  } catch {
    return 'you';
  }
}

export const errorResponse = (status: number, problem: Problem, extra: object = {}): Response =>
  Response.json({ error: problem, ...extra }, { status, headers: status === 503 ? { 'retry-after': '2' } : {} });

const STATUS_OF: Readonly<Record<string, number>> = {
  'invalid-request': 400,
  blocked: 409,
  cancelled: 409,
  archived: 409,
  'changed-meanwhile': 409,
  'profile-behind': 409,
  'handed-off-meanwhile': 409,
  'too-large': 413,
  'queue-full': 503,
  'database-away': 503,
  'database-busy': 503,
  'disk-full': 507,
  unexpected: 500,
};

/** Header under which the web server passes on how it calls a request. */
const REQUEST_ID = 'x-request-id';

/** Any failure as the one error shape; expected ones as 422 unless their code says otherwise. */
function failureResponse(error: unknown, place: string, requestId: string): Response {
  const problem = problemFor(error, place, requestId);
  return errorResponse(STATUS_OF[problem.code] ?? (error instanceof YarvoError ? 422 : 500), problem);
}

export const notFound = (message = 'There is no such character.'): Response =>
  errorResponse(404, {
    code: 'not-found',
    message,
    place: 'address',
    remedy: 'Go back to the roster and pick it there.',
  });

const MOST_MESSAGES = 20;
const LONGEST_MESSAGE = 200;

export function invalidRequest(issues: readonly { path: PropertyKey[]; message: string }[]): Response {
  const said = issues.slice(0, MOST_MESSAGES);
  const place = said.map((issue) => issue.path.map(String).join('.').slice(0, LONGEST_MESSAGE) || 'body').join(', ');
  const messages = said.map((issue) => issue.message.slice(0, LONGEST_MESSAGE));
  if (issues.length > said.length) messages.push(`And ${issues.length - said.length} more.`);
  return errorResponse(400, {
    code: 'invalid-request',
    message: messages.join(' '),
    place,
    remedy: 'Correct the named fields and send again.',
  });
}

/**
 * Runs a handler; what it throws becomes a response that names the request, so that the server never falls over and
 * every error can be found in the log.
 */
export async function guarded(
  request: Request | undefined,
  place: string,
  work: () => Promise<Response>,
): Promise<Response> {
  const requestId = request?.headers.get(REQUEST_ID) ?? randomUUID().slice(0, 8);
  const started = performance.now();
  const response = await work().catch((error: unknown) => failureResponse(error, place, requestId));
  const answer = response.status < 400 ? response : await withRequestId(response, requestId);
  if (request) {
    const level = request.method === 'GET' ? 'debug' : 'info';
    const milliseconds = Math.round(performance.now() - started);
    log()[level](
      { requestId, method: request.method, path: new URL(request.url).pathname, status: answer.status, milliseconds },
      'answered',
    );
  }
  return answer;
}

async function withRequestId(response: Response, requestId: string): Promise<Response> {
  const { error, ...rest } = (await response.json()) as { error: Problem };
  return Response.json(
    { error: { ...error, requestId }, ...rest },
    { status: response.status, headers: response.headers },
  );
}

/** Longest JSON body; nothing that a person does needs more. */
const JSON_LIMIT_BYTES = 1024 * 1024;
/** No request nests deeper. */
const MOST_NESTED = 64;

/**
 * The body of a request as JSON; undefined where it is none, for the schema to say.
 * @throws {YarvoError} `too-large`
 */
export async function readJson(request: Request): Promise<unknown> {
  const bytes = await readBounded(request, JSON_LIMIT_BYTES, 'body', 'Send less at once.');
  try {
    const text = new TextDecoder().decode(bytes);
    return nestsDeeper(text, MOST_NESTED) ? undefined : (JSON.parse(text) as unknown);
  } catch {
    return undefined;
  }
}

/**
 * Does something once the answer has gone out, so that a server killed before that has not done it. Outside of the
 * framework nobody sends an answer: then it is done at once.
 */
export async function afterAnswer(work: () => Promise<void> | void): Promise<void> {
  try {
    after(work);
  } catch {
    await work();
  }
}

const CHANGE_STATUS: Readonly<Record<RefusalCode, number>> = {
  'not-found': 404,
  conflict: 409,
  'not-possible': 422,
  'not-yours': 409,
};
const CHANGE_REMEDY: Readonly<Record<RefusalCode, string>> = {
  'not-found': 'Go back to the roster.',
  conflict: 'Look at what changed and repeat your change if it is still wanted.',
  'not-possible': 'Nothing was changed.',
  'not-yours': 'Undo it all the same if you mean to.',
};

/** 200 with the new fit; 409 with the newer one when the sender was behind. */
export function changeResponse(result: ChangeResult): Response {
  if (result.ok) return Response.json({ fit: result.fit });
  const { code, message, fit } = result;
  return errorResponse(
    CHANGE_STATUS[code],
    { code, message, place: 'fit', remedy: CHANGE_REMEDY[code] },
    fit ? { fit } : {},
  );
}

/** A handler with a JSON body: the body is bounded and checked before anything is done. */
export const jsonRoute = <Body>(
  request: Request,
  place: string,
  schema: z.ZodType<Body>,
  work: (body: Body) => Promise<Response>,
): Promise<Response> =>
  guarded(request, place, async () => {
    const body = schema.safeParse(await readJson(request));
    return body.success ? work(body.data) : invalidRequest(body.error.issues);
  });

/** A change of a fit over HTTP: address and body are checked, the change is made, its outcome becomes the response. */
export const fitRoute = <Body>(
  request: Request,
  context: CharacterContext,
  schema: z.ZodType<Body>,
  change: (characterId: string, body: Body, author: string) => Promise<ChangeResult>,
): Promise<Response> =>
  guarded(request, 'fit', async () => {
    const params = CharacterParams.safeParse(await context.params);
    if (!params.success) return notFound();
    const body = schema.safeParse(await readJson(request));
    if (!body.success) return invalidRequest(body.error.issues);
    return changeResponse(await change(params.data.characterId, body.data, authorOf(request)));
  });
