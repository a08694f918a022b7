import createClient from 'openapi-fetch';
import type { z } from 'zod';
import type { Problem } from '@/core/errors/yarvo-error';
import type { OPERATIONS } from './operations';

type Operations = (typeof OPERATIONS)[keyof typeof OPERATIONS];
type Using<Method> = Extract<Operations, { method: Method }>;
type At<Method, Path> = Extract<Using<Method>, { path: Path }>;

type Parameters<Op> = (Op extends { params: infer Path extends z.ZodType } ? { path: z.input<Path> } : object) &
  (Op extends { query: infer Query extends z.ZodType }
    ? object extends z.input<Query>
      ? { query?: z.input<Query> }
      : { query: z.input<Query> }
    : object);

type Init<Op> = (object extends Parameters<Op> ? { params?: Parameters<Op> } : { params: Parameters<Op> }) &
  (Op extends { body: infer Body extends z.ZodType } ? { body: z.input<Body> } : object);

type Answer<Op> = Op extends { answer: infer Schema extends z.ZodType } ? z.output<Schema> : null;

type Call<Method> = <Path extends Using<Method>['path']>(
  path: Path,
  ...init: object extends Init<At<Method, Path>> ? [Init<At<Method, Path>>?] : [Init<At<Method, Path>>]
) => Promise<{ data?: Answer<At<Method, Path>>; error?: unknown; response: Response }>;

/** The calls of Yarvo, typed by the operations that docs/openapi.json is made of. */
export interface YarvoClient {
  readonly GET: Call<'get'>;
  readonly POST: Call<'post'>;
  readonly DELETE: Call<'delete'>;
}

/** @param baseUrl "" in a page. @param fetch in place of the usual one, for tests. */
export const yarvoClient = (baseUrl: string, fetch?: (request: Request) => Promise<Response>): YarvoClient =>
  // Its own types lose tuples and readonly lists; the operations say the same.
  createClient({ baseUrl, ...(fetch && { fetch }) }) as unknown as YarvoClient;

/** What a call came to: its answer, or why there is none. */
export type Outcome<Answer> =
  | { readonly ok: true; readonly data: Answer }
  | { readonly ok: false; readonly problem: Problem; readonly status: number };

/**
 * A call's answer or its problem; a server that does not answer is a problem like any other, with status 0.
 * @param place what the person was at.
 */
export async function outcomeOf<Answer>(
  call: Promise<{ data?: Answer; error?: unknown; response: Response }>,
  place: string,
): Promise<Outcome<Answer>> {
  try {
    const { data, error, response } = await call;
    if (response.ok) return { ok: true, data: data as Answer };
    const problem = (error as { error?: Problem } | undefined)?.error;
    return { ok: false, status: response.status, problem: problem ?? unexpected(response.status, place) };
  } catch {
    return { ok: false, status: 0, problem: offline(place) };
  }
}

const unexpected = (status: number, place: string): Problem => ({
  code: 'unexpected',
  message: `The server answered ${status}.`,
  place,
  remedy: 'Try again.',
});

const offline = (place: string): Problem => ({
  code: 'offline',
  message: 'The server did not answer.',
  place,
  remedy: 'Check that Yarvo is running, then try again.',
});
