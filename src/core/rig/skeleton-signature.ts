import type { Rig } from './rig';
import { pathsOf } from './local-pose';

/** Rest places that differ by less than this share of the longest offset are the same; turns by less than ten times as much. */
const ROUNDING = 1e-4;

/**
 * Names a skeleton: the names from the top, and where the bones rest in one another. Files of one skeleton have one
 * signature; another size or unit has another. What is keyed does not count.
 */
export function skeletonSignature(rig: Pick<Rig, 'bones'>): string {
  const longest = Math.max(1e-12, ...rig.bones.flatMap(({ rest }) => rest.translation.map(Math.abs)));
  const rounded = (value: number) => Math.round(value / ROUNDING) || 0;
  const paths = pathsOf(rig);
  const text = rig.bones
    .map(({ index, rest }) => {
      const sign = rest.rotation[3] < 0 ? -1 : 1;
      const place = rest.translation.map((value) => rounded(value / longest));
      const turn = rest.rotation.map((value) => rounded((value * sign) / 10));
      return [paths[index], ...place, ...turn].join(' ');
    })
    .join('\n');
  return `${rig.bones.length}-${hash(`${longest.toPrecision(4)}\n${text}`)}`;
}

/** 53 bits of a text, by two 32-bit multiplicative hashes. Source: the mixing steps of MurmurHash 3 (Appleby). */
function hash(text: string): string {
  let [a, b] = [0xdeadbeef, 0x41c6ce57];
  for (let at = 0; at < text.length; at++) {
    const code = text.charCodeAt(at);
    a = Math.imul(a ^ code, 2654435761);
    b = Math.imul(b ^ code, 1597334677);
  }
  a = Math.imul(a ^ (a >>> 16), 2246822507) ^ Math.imul(b ^ (b >>> 13), 3266489909);
  b = Math.imul(b ^ (b >>> 16), 2246822507) ^ Math.imul(a ^ (a >>> 13), 3266489909);
  return (4294967296 * (2097151 & b) + (a >>> 0)).toString(36);
}
