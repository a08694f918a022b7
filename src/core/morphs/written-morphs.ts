import type { MorphMatch } from './map-morphs';

/**
 * Name of each of a figure's morph targets as it is written: that of the target which it stands for, else its own. One of
 * its own that has the name of another's is counted.
 */
export function writtenMorphs(own: readonly string[], mapped: readonly MorphMatch[]): ReadonlyMap<string, string> {
  const written = new Map(mapped.map(({ own: name, wanted }) => [name, wanted]));
  const taken = new Set(written.values());
  for (const name of own) {
    if (written.has(name)) continue;
    let free = name;
    for (let count = 2; taken.has(free); count++) free = `${name}_${count}`;
    written.set(name, free);
    taken.add(free);
  }
  return written;
}
