import { distinct, factsOf, listNames, type Check, type FindingDraft } from '../finding';

/** Meshes have no more vertices and triangles than the engine's buffers hold. */
export const checkMeshSize: Check = (plan) => {
  const { verticesPerMesh, trianglesPerMesh } = plan.profile.limits;
  const { parts } = factsOf(plan);
  const say = (aspect: 'vertices' | 'triangles', most: number | null): FindingDraft[] => {
    if (most === null) return [];
    const over = parts.filter((part) => part[aspect] > most);
    if (over.length === 0) return [];
    const worst = Math.max(...over.map((part) => part[aspect]));
    return [
      {
        aspect,
        severity: 'blocker',
        sentence: `${listNames(distinct(over.map(({ name }) => name)))} ${over.length === 1 ? 'has' : 'have'} up to ${worst} ${aspect}; ${plan.profile.label} takes ${most} in a mesh.`,
        measured: `${worst} ${aspect}`,
        allowed: `at most ${most}`,
        amount: { measured: worst, allowed: most, unit: aspect },
        why: 'The rest is cut off, or the file is refused.',
        remedy: 'Split the mesh into parts.',
        parts: distinct(over.map(({ name }) => name)),
        repair: 'split-parts',
      },
    ];
  };
  return [...say('vertices', verticesPerMesh), ...say('triangles', trianglesPerMesh)];
};
