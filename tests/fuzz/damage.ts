import type { Seed } from './seeds';

/** Mulberry32: small, seeded, the same everywhere. */
export function randomFrom(seed: number): () => number {
  let state = seed >>> 0;
  return () => {
    state = (state + 0x6d2b79f5) >>> 0;
    let t = state;
    t = Math.imul(t ^ (t >>> 15), t | 1);
    t ^= t + Math.imul(t ^ (t >>> 7), t | 61);
    return ((t ^ (t >>> 14)) >>> 0) / 4294967296;
  };
}

type Random = () => number;
const upTo = (random: Random, most: number): number => Math.floor(random() * most);
const pick = <Value>(random: Random, values: readonly Value[]): Value => values[upTo(random, values.length)];

const NUMBERS = [
  'NaN',
  'Infinity',
  '-Infinity',
  '-1',
  '0',
  '1e308',
  '2147483647',
  '4294967295',
  '2000000000',
  '99999999999999999999',
  '-0.5',
  '""',
  'null',
  '1e-320',
];
const URIS = [
  'http://127.0.0.1:9/x.bin',
  'file:///etc/passwd',
  '../../../../etc/passwd',
  '//host/share',
  'data:,',
  'data:application/octet-stream;base64,AAAA',
  'C:\\\\secret.bin',
];

/** One damaged copy of a sound file. */
export function damage(seed: Seed, random: Random): Uint8Array {
  const kinds = seed.isText
    ? [flipBytes, cut, repeat, replaceNumber, replaceNumber, replaceNumber, dropLine, swapWords, nest, replaceUri]
    : [flipBytes, flipBytes, cut, repeat, hugeLength, hugeLength, zero];
  let bytes = seed.bytes;
  for (let times = 1 + upTo(random, 3); times > 0; times--) bytes = pick(random, kinds)(bytes, random);
  return bytes;
}

function flipBytes(bytes: Uint8Array, random: Random): Uint8Array {
  const out = bytes.slice();
  for (let times = 1 + upTo(random, 12); times > 0; times--) out[upTo(random, out.length)] = upTo(random, 256);
  return out;
}

const cut = (bytes: Uint8Array, random: Random): Uint8Array => bytes.slice(0, upTo(random, bytes.length));

function repeat(bytes: Uint8Array, random: Random): Uint8Array {
  const at = upTo(random, bytes.length);
  const piece = bytes.slice(at, at + upTo(random, 400));
  const out = new Uint8Array(bytes.length + piece.length);
  out.set(bytes.subarray(0, at));
  out.set(piece, at);
  out.set(bytes.subarray(at), at + piece.length);
  return out;
}

function zero(bytes: Uint8Array, random: Random): Uint8Array {
  const out = bytes.slice();
  const at = upTo(random, out.length);
  return out.fill(0, at, at + upTo(random, 64));
}

/** A length or count of 2 GB, or close to the largest there is. */
function hugeLength(bytes: Uint8Array, random: Random): Uint8Array {
  const out = bytes.slice();
  if (out.length < 8) return out;
  new DataView(out.buffer).setUint32(
    upTo(random, out.length - 4),
    pick(random, [0xffffffff, 0x7fffffff, 2_000_000_000, 0x80000000, 1]),
    true,
  );
  return out;
}

const asText =
  (change: (text: string, random: Random) => string) =>
  (bytes: Uint8Array, random: Random): Uint8Array =>
    new TextEncoder().encode(change(new TextDecoder().decode(bytes), random));

const replaceNumber = asText((text, random) => {
  const matches = [...text.matchAll(/-?\d+(\.\d+)?(e-?\d+)?/gi)];
  if (matches.length === 0) return text;
  const match = pick(random, matches);
  return text.slice(0, match.index) + pick(random, NUMBERS) + text.slice(match.index + match[0].length);
});

const dropLine = asText((text, random) => {
  const lines = text.split(/(?<=[\n{}>])/);
  lines.splice(upTo(random, lines.length), 1 + upTo(random, 3));
  return lines.join('');
});

const swapWords = asText((text, random) => {
  const words = [...text.matchAll(/[A-Za-z_]{3,}/g)];
  if (words.length < 2) return text;
  const [a, b] = [pick(random, words), pick(random, words)];
  return text.slice(0, a.index) + b[0] + text.slice(a.index + a[0].length);
});

const nest = asText((text, random) => {
  const at = upTo(random, text.length);
  const open = pick(random, ['{', '[', '<node>', 'JOINT x {\n', 'X: {\n', '"a":{']);
  return text.slice(0, at) + open.repeat(pick(random, [2, 50, 3000])) + text.slice(at);
});

const replaceUri = asText((text, random) => text.replace(/(data:[^"]*|[\w/]+\.png)/, pick(random, URIS)));
