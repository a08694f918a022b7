import type { PartFacts } from '../../rig/file-facts';
import { factsOf, type Check, type FindingDraft } from '../finding';

const LEVEL = /^(.*?)[ _.-]?lod[ _.-]?(\d+)$/i;

/** Levels of detail get smaller step by step, and are moved by bones that the finest one is moved by. */
export const checkLevels: Check = (plan) => {
  const { levels } = plan.profile;
  if (!levels) return [];
  const groups = new Map<string, { level: number; part: PartFacts }[]>();
  for (const part of factsOf(plan).parts) {
    const [, stem, level] = LEVEL.exec(part.name) ?? [];
    if (level !== undefined) groups.set(stem, [...(groups.get(stem) ?? []), { level: Number(level), part }]);
  }
  return [...groups.values()].flatMap((group): FindingDraft[] => {
    const sorted = [...group].sort((a, b) => a.level - b.level);
    return sorted.slice(1).flatMap(({ part }, at): FindingDraft[] => {
      const finer = sorted[at].part;
      const found: FindingDraft[] = [];
      if (levels.fallingCounts && part.triangles >= finer.triangles)
        found.push({
          aspect: 'counts',
          severity: 'caution',
          sentence: `${part.name} has ${part.triangles} triangles, no fewer than ${finer.name}.`,
          measured: `${part.triangles} triangles`,
          allowed: `fewer than ${finer.triangles}`,
          amount: { measured: part.triangles, allowed: finer.triangles, unit: 'triangles' },
          why: 'A coarser level that costs as much is drawn for nothing.',
          remedy: 'Check which level is which.',
          parts: [part.name, finer.name],
        });
      if (levels.sameSkeleton && part.skin !== finer.skin)
        found.push({
          aspect: 'skeleton',
          severity: 'caution',
          sentence: `${part.name} is bound to another skin than ${finer.name}.`,
          measured: 'another skin',
          allowed: 'one skeleton for all levels',
          why: 'The figure jumps where one level takes over from the other.',
          remedy: 'Merge the skins.',
          parts: [part.name, finer.name],
          repair: 'merge-skins',
        });
      return found;
    });
  });
};
