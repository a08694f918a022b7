import { describe, expect, it } from 'vitest';
import { accessRules, isLoopback } from './access-rules';
import { checkRequest, hostNameOf, type RequestFacts } from './check-request';
import { contentPolicy, makeNonce } from './content-policy';

const RULES = accessRules('127.0.0.1', 'yarvo.gannet.example, [fd00::2]', undefined);
const get: RequestFacts = { method: 'GET', path: '/', host: '127.0.0.1:4310', hasBody: false };
const post: RequestFacts = {
  ...get,
  method: 'POST',
  path: '/api/archive',
  hasBody: true,
  contentType: 'application/json',
};
const code = (facts: Partial<RequestFacts>, base = get, rules = RULES) =>
  checkRequest({ ...base, ...facts }, rules)?.problem.code ?? null;

it.each(['TRACE', 'CONNECT', 'PROPFIND', 'X'.repeat(500)])('%s requests are refused in words', (method) => {
  expect(checkRequest({ ...get, method }, RULES)).toMatchObject({ status: 405, problem: { code: 'unknown-method' } });
});

describe('the name a request was sent to', () => {
  it.each([
    '127.0.0.1:4310',
    'localhost',
    'LOCALHOST:4310',
    '[::1]:4310',
    'yarvo.gannet.example',
    'yarvo.gannet.example.:80',
    '[fd00::2]:4310',
  ])('%s is served', (host) => expect(code({ host })).toBeNull());
  it.each(['evil.example', '127.0.0.1.evil.example', 'localhost.evil.example:4310', '', '169.254.1.1', undefined])(
    '%s is not, for reading neither',
    (host) => expect(code({ host })).toBe('foreign-host'),
  );

  it("is any of this machine's when it listens everywhere", () => {
    const rules = accessRules('0.0.0.0', '', 'a long password');
    expect(rules.hostNames.has('127.0.0.1')).toBe(true);
    expect(rules.hostNames.has('evil.example')).toBe(false);
    expect(rules.hostNames.size).toBeGreaterThan(3);
  });
});

describe('what changes something', () => {
  it.each([
    [{ origin: 'http://127.0.0.1:4310' }, null],
    [{ origin: 'http://127.0.0.1:4310', site: 'same-origin' }, null],
    [{}, null],
    [{ origin: 'http://evil.example' }, 'foreign-origin'],
    // Another program on this machine is foreign too.
    [{ origin: 'http://127.0.0.1:3000' }, 'foreign-origin'],
    [{ origin: 'http://localhost:4310' }, 'foreign-origin'],
    [{ origin: 'null' }, 'foreign-origin'],
    [{ site: 'cross-site' }, 'foreign-origin'],
    [{ site: 'same-site' }, 'foreign-origin'],
  ] as const)('from %j: %s', (facts, expected) => {
    for (const method of ['POST', 'DELETE', 'PUT', 'PATCH']) expect(code({ ...facts, method }, post)).toBe(expected);
  });

  it('may be read from anywhere that may know the name', () =>
    expect(code({ origin: 'http://evil.example' })).toBeNull());
});

describe('what a body says it is', () => {
  it.each([
    ['application/json', null],
    ['application/json; charset=utf-8', null],
    ['Application/JSON', null],
    ['text/plain', 'not-json'],
    ['application/x-www-form-urlencoded', 'not-json'],
    ['multipart/form-data; boundary=x', 'not-json'],
    ['application/jsonp', 'not-json'],
    [undefined, 'not-json'],
  ])('%s: %s', (contentType, expected) => expect(code({ contentType }, post)).toBe(expected));

  it('is free where files are taken, and where there is none', () => {
    for (const path of [
      '/api/characters',
      '/api/characters/5f0c8f7e/textures',
      '/api/motions/kept',
      '/api/profiles/skeleton',
    ])
      expect(code({ path, contentType: 'multipart/form-data; boundary=x' }, post)).toBeNull();
    expect(code({ hasBody: false, contentType: undefined }, post)).toBeNull();
    expect(code({ path: '/api/characters/5f0c8f7e/fit/changes', contentType: 'application/octet-stream' }, post)).toBe(
      'not-json',
    );
  });
});

describe('a password', () => {
  const rules = accessRules('0.0.0.0', '', 'grüne Laternen');
  const basic = (text: string) => `Basic ${Buffer.from(text).toString('base64')}`;
  it.each([
    [basic('maren:grüne Laternen'), null],
    [basic(':grüne Laternen'), null],
    [basic('maren:grüne Laterne'), 'password-wanted'],
    [basic('grüne Laternen'), null],
    ['Bearer grüne Laternen', 'password-wanted'],
    ['', 'password-wanted'],
    [undefined, 'password-wanted'],
  ])('%s: %s', (authorization, expected) => {
    expect(code({ authorization }, get, rules)).toBe(expected);
    expect(code({ authorization }, post, rules)).toBe(expected);
  });
});

it('tells loopback from what others can reach', () => {
  expect(['127.0.0.1', '127.1.2.3', 'localhost', '::1', '[::1]'].map(isLoopback)).toEqual([
    true,
    true,
    true,
    true,
    true,
  ]);
  expect(['0.0.0.0', '::', '192.168.0.2', 'localhost.evil.example', '1127.0.0.1'].map(isLoopback)).toEqual([
    false,
    false,
    false,
    false,
    false,
  ]);
  expect(hostNameOf('[::1]:80')).toBe('[::1]');
});

it('names a nonce that nobody can guess, and lets in no script but by it', () => {
  const nonces = new Set(Array.from({ length: 100 }, makeNonce));
  expect(nonces.size).toBe(100);
  const policy = contentPolicy('abc');
  expect(policy).toContain("script-src 'self' 'nonce-abc' 'strict-dynamic'");
  expect(policy.replace("style-src-attr 'unsafe-inline'", '')).not.toContain('unsafe');
  expect(policy).not.toMatch(/https?:|\*/);
});
