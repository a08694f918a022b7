import { createHash, timingSafeEqual } from 'node:crypto';
import type { Problem } from '@/core/errors/yarvo-error';

/** Who may use this server. */
export interface AccessRules {
  /** Host names under which it is served, lower case, without ports. */
  readonly hostNames: ReadonlySet<string>;
  /** Asked of everybody where it is set. */
  readonly password: string | null;
}

/** What of a request decides; header values as they came. */
export interface RequestFacts {
  readonly method: string;
  readonly path: string;
  readonly host?: string;
  readonly origin?: string;
  readonly site?: string;
  readonly contentType?: string;
  readonly hasBody: boolean;
  readonly authorization?: string;
}

export interface Refusal {
  readonly status: 401 | 403 | 405 | 415;
  readonly problem: Problem;
}

const READING = new Set(['GET', 'HEAD', 'OPTIONS']);
const METHODS = new Set([...READING, 'POST', 'PUT', 'PATCH', 'DELETE']);
/** Routes that take files: their bodies are bytes or forms. */
const UPLOADS = /^\/api\/(characters(\/[^/]+\/textures)?|motions\/kept|profiles\/skeleton)\/?$/;

/**
 * Whether a request may go on. A page on another site can make a browser send requests here, and a name that is
 * pointed at this machine can make it read the answers (DNS rebinding): so the name must be one that is served, what
 * changes anything must come from our own pages or from no browser, and JSON must say that it is JSON, which a foreign
 * form cannot.
 * @returns null where it may.
 */
export function checkRequest(facts: RequestFacts, rules: AccessRules): Refusal | null {
  return (
    checkMethod(facts) ??
    checkHost(facts, rules) ??
    checkPassword(facts, rules) ??
    checkOrigin(facts) ??
    checkContentType(facts)
  );
}

/** Others are not passed on: the framework has no answer to some of them. */
function checkMethod({ method }: RequestFacts): Refusal | null {
  if (METHODS.has(method)) return null;
  return refusal(
    405,
    'unknown-method',
    `Yarvo takes no ${method.slice(0, 20)} requests.`,
    'method',
    'Use GET, HEAD, POST or DELETE; the API is documented in docs/api.md.',
  );
}

function checkHost({ host }: RequestFacts, { hostNames }: AccessRules): Refusal | null {
  if (host !== undefined && hostNames.has(hostNameOf(host))) return null;
  return refusal(
    403,
    'foreign-host',
    'Yarvo is not served under this name.',
    'Host',
    'Use the address that ./start prints, or add the name to YARVO_HOSTS.',
  );
}

function checkPassword({ authorization = '' }: RequestFacts, { password }: AccessRules): Refusal | null {
  if (password === null || isEqual(passwordOf(authorization), password)) return null;
  return refusal(
    401,
    'password-wanted',
    'Yarvo asks for a password here.',
    'Authorization',
    'Give the password that whoever started Yarvo has set; any name will do.',
  );
}

function checkOrigin({ method, host, origin, site }: RequestFacts): Refusal | null {
  if (READING.has(method)) return null;
  const isForeignSite = site !== undefined && site !== 'same-origin' && site !== 'none';
  const isForeignOrigin = origin !== undefined && hostOfOrigin(origin) !== host?.toLowerCase();
  if (!isForeignSite && !isForeignOrigin) return null;
  return refusal(
    403,
    'foreign-origin',
    'A page of another address tried to change something here.',
    'Origin',
    "Make the change on Yarvo's own pages.",
  );
}

function checkContentType({ method, path, contentType = '', hasBody }: RequestFacts): Refusal | null {
  if (READING.has(method) || !hasBody || UPLOADS.test(path)) return null;
  if (/^application\/json\s*(;|$)/i.test(contentType)) return null;
  return refusal(
    415,
    'not-json',
    'The body does not say that it is JSON.',
    'Content-Type',
    'Send it as application/json.',
  );
}

const refusal = (status: Refusal['status'], code: string, message: string, place: string, remedy: string): Refusal => ({
  status,
  problem: { code, message, place, remedy },
});

/** "[::1]:4310" -> "[::1]"; "Localhost:4310" -> "localhost". */
export function hostNameOf(host: string): string {
  return host.toLowerCase().replace(/:\d+$/, '').replace(/\.$/, '');
}

function hostOfOrigin(origin: string): string | null {
  try {
    return new URL(origin).host.toLowerCase();
  } catch {
    return null;
  }
}

/** Password of an HTTP Basic header (RFC 7617); the name before it is not asked for. */
function passwordOf(authorization: string): string {
  const encoded = /^Basic\s+([A-Za-z0-9+/=]+)$/i.exec(authorization)?.[1] ?? '';
  return Buffer.from(encoded, 'base64')
    .toString('utf8')
    .replace(/^[^:]*:/, '');
}

/** In a time that does not depend on where they differ. */
function isEqual(a: string, b: string): boolean {
  const digest = (text: string) => createHash('sha256').update(text).digest();
  return timingSafeEqual(digest(a), digest(b));
}
