import type { FileFacts } from './file-facts';

/** Of the figure's height: a target that moves no vertex further than this moves nothing, and nobody sees it. */
const STILL_SHARE = 1e-5;

/** The figure's morph targets, in file order, and how far each moves a vertex at most, file units. */
export function morphReaches(facts: Pick<FileFacts, 'parts'> | null | undefined): ReadonlyMap<string, number> {
  const found = new Map<string, number>();
  for (const { morphs } of facts?.parts ?? [])
    for (const { name, reach } of morphs) found.set(name, Math.max(reach, found.get(name) ?? 0));
  return found;
}

/** What a morph target must move a vertex further than to count. @param heightFile of the figure, file units. */
export const leastReach = (heightFile: number): number => heightFile * STILL_SHARE;
