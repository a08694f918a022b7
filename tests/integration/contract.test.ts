import { beforeEach, describe, expect, it } from 'vitest';
import { ANSWERS, FailureSchema, IntakeOutcomeSchema, MadePackSchema } from '@/contract/answers';
import { outcomeOf, yarvoClient } from '@/contract/client';
import type { IntakeOutcome } from '@/contract/character-view';
import * as archive from '@/app/api/archive/route';
import * as characters from '@/app/api/characters/route';
import * as character from '@/app/api/characters/[characterId]/route';
import * as changes from '@/app/api/characters/[characterId]/fit/changes/route';
import * as history from '@/app/api/characters/[characterId]/fit/history/route';
import * as handoffs from '@/app/api/characters/[characterId]/handoffs/route';
import * as remains from '@/app/api/characters/[characterId]/remains/route';
import * as health from '@/app/api/health/route';
import * as jobs from '@/app/api/jobs/route';
import * as job from '@/app/api/jobs/[jobId]/route';
import * as events from '@/app/api/jobs/events/route';
import { JobViewSchema } from '@/contract/jobs';
import * as joins from '@/app/api/joins/route';
import * as openapi from '@/app/api/openapi.json/route';
import * as provenance from '@/app/api/provenance/route';
import * as sizes from '@/app/api/sizes/route';
import * as renewals from '@/app/api/renewals/route';
import { CAST } from '../../demo/cast/cast';
import { withFreshDatabase } from './fresh-database';
import { untilOver } from './over-http';

withFreshDatabase();

type Handler = (request: Request, context: { params: Promise<never> }) => Promise<Response>;
type Route = Partial<Record<string, unknown>>;

const ROUTES: readonly (readonly [pattern: RegExp, route: Route])[] = [
  [/^\/api\/archive$/, archive],
  [/^\/api\/characters$/, characters],
  [/^\/api\/characters\/(?<characterId>[^/]+)$/, character],
  [/^\/api\/characters\/(?<characterId>[^/]+)\/fit\/changes$/, changes],
  [/^\/api\/characters\/(?<characterId>[^/]+)\/fit\/history$/, history],
  [/^\/api\/characters\/(?<characterId>[^/]+)\/handoffs$/, handoffs],
  [/^\/api\/characters\/(?<characterId>[^/]+)\/remains$/, remains],
  [/^\/api\/health$/, health],
  [/^\/api\/jobs$/, jobs],
  [/^\/api\/jobs\/(?<jobId>[^/]+)$/, job],
  [/^\/api\/joins$/, joins],
  [/^\/api\/openapi.json$/, openapi],
  [/^\/api\/provenance$/, provenance],
  [/^\/api\/sizes$/, sizes],
  [/^\/api\/renewals$/, renewals],
];

/** The handlers as the framework calls them, without a server between. */
async function answer(request: Request): Promise<Response> {
  const { pathname } = new URL(request.url);
  for (const [pattern, route] of ROUTES) {
    const match = pattern.exec(pathname);
    const handler = match && (route[request.method] as Handler | undefined);
    if (handler) return handler(request, { params: Promise.resolve((match.groups ?? {}) as never) });
  }
  throw new Error(`no handler for ${request.method} ${pathname}`);
}

const api = yarvoClient('http://yarvo.test', answer);

async function take(file: string): Promise<string> {
  const request = new Request(`http://yarvo.test/api/characters?name=${file}`, {
    method: 'POST',
    body: (await CAST[file].make()) as BodyInit,
    headers: { 'content-type': 'application/octet-stream' },
  });
  const { job: queued } = ANSWERS.arrival.parse(await (await answer(request)).json());
  const over = await untilOver(queued.id);
  return (IntakeOutcomeSchema.parse(over.result) as IntakeOutcome).characters[0].id;
}

describe('answers are what the contract says, to the last field', () => {
  let id: string;
  beforeEach(async () => {
    id = await take('eel-seller.glb');
  });
  const get = async (path: string) => (await answer(new Request(`http://yarvo.test${path}`))).json();

  it('of reading', async () => {
    await take('bell-ringer.dae');
    const expected = [
      ['/api/characters', ANSWERS.roster],
      [`/api/characters/${id}`, ANSWERS.character],
      [`/api/characters/${id}/remains`, ANSWERS.remains],
      [`/api/characters/${id}/fit/history?before=1`, ANSWERS.history],
      ['/api/jobs', ANSWERS.jobs],
      ['/api/renewals', ANSWERS.renewals],
      ['/api/health', ANSWERS.health],
    ] as const;
    for (const [path, schema] of expected) {
      const parsed = schema.safeParse(await get(path));
      expect(parsed.error?.issues.slice(0, 3), path).toBeUndefined();
    }
    expect((await get('/api/openapi.json')) as object).toMatchObject({ openapi: '3.1.0' });
  });

  it('of changing, refusing and handing off, through the typed client', async () => {
    const params = { path: { characterId: id } };
    const body = { baseRevision: 0, action: { kind: 'clear', role: 'jaw' } } as const;
    const changed = await outcomeOf(api.POST('/api/characters/{characterId}/fit/changes', { params, body }), 'fit');
    expect(changed.ok && ANSWERS.fit.parse(changed.data).fit.revision).toBe(1);
    const behind = await api.POST('/api/characters/{characterId}/fit/changes', { params, body });
    expect(FailureSchema.parse(behind.error)).toMatchObject({ error: { code: 'conflict' }, fit: { revision: 1 } });
    const refused = await outcomeOf(api.POST('/api/characters/{characterId}/fit/changes', { params, body }), 'fit');
    expect(refused).toMatchObject({ ok: false, status: 409, problem: { code: 'conflict' } });
    const handed = await outcomeOf(api.POST('/api/characters/{characterId}/handoffs', { params }), 'pack');
    const over = handed.ok ? await untilOver(handed.data.job.id) : null;
    if (over?.state === 'done') MadePackSchema.parse(over.result);
    else expect(over?.problem).toMatchObject({ code: 'blocked' });
    const archived = await outcomeOf(api.POST('/api/archive', { body: { characterIds: [id], isArchived: true } }), 'x');
    expect(archived).toEqual({ ok: true, data: { changed: 1 } });
  });

  it('of a server that does not answer is a problem in words', async () => {
    const away = yarvoClient('http://yarvo.test', () => Promise.reject(new TypeError('fetch failed')));
    const outcome = await outcomeOf(away.GET('/api/health'), 'database');
    expect(outcome).toMatchObject({ ok: false, status: 0, problem: { code: 'offline', place: 'database' } });
  });
});

it('a job is told of as server-sent events until it is done', async () => {
  const abort = new AbortController();
  const stream = await events.GET(new Request('http://yarvo.test/api/jobs/events', { signal: abort.signal }));
  expect(stream.headers.get('content-type')).toBe('text/event-stream');
  const reader = (stream.body as ReadableStream<Uint8Array>).getReader();
  await take('quay-walk.bvh');
  const states: string[] = [];
  for (let text = ''; states.at(-1) !== 'done';) {
    const { value } = await reader.read();
    text += new TextDecoder().decode(value);
    for (let end = text.indexOf('\n\n'); end >= 0; end = text.indexOf('\n\n')) {
      const data = /^event: job\ndata: (.*)$/s.exec(text.slice(0, end))?.[1];
      if (data) states.push(JobViewSchema.parse(JSON.parse(data)).state);
      text = text.slice(end + 2);
    }
  }
  expect(new Set(states)).toEqual(new Set(['queued', 'running', 'done']));
  abort.abort();
});
