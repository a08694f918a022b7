import type { HandoffPlan } from './handoff-plan';

/** Lines whose last bone is no end of its own: where there is no skin beyond, there is nothing to end. */
const ENDING = /(Thumb|Index|Middle|Ring|Little)Distal$|Toes$|^head$/;

/** Mapped bones that carry skin, end a line, and have no bone below them. */
export function openEnds({
  rig,
  fit,
}: Pick<HandoffPlan, 'rig' | 'fit'>): { readonly role: string; readonly bone: number }[] {
  const parents = new Set(rig.bones.map(({ parent }) => parent));
  return Object.entries(fit.assignments).flatMap(([role, { boneIndex: bone }]) => {
    const { skinVertexCount, parent } = rig.bones[bone];
    return ENDING.test(role) && skinVertexCount > 0 && parent >= 0 && !parents.has(bone) ? [{ role, bone }] : [];
  });
}
