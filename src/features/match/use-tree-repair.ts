'use client';

import { useMemo } from 'react';
import { nextMade, NO_NODE, type TreeRepair } from '@/core/intake/decisions';
import { INSERT_SHARE, isPossible, type PlannedRepair } from '@/core/intake/plan-repair';
import { useCharacter } from '../character/character-context';

export interface TreeRepairs {
  /** Whether the tree allows it and every bone in it can be named; nodes made while a file was read cannot. */
  can(plan: PlannedRepair): boolean;
  carryOut(plan: PlannedRepair): void;
}

/** Repairs of the tree, by bones as they stand now; kept as decisions about the file's own nodes. */
export function useTreeRepair(): TreeRepairs {
  const { character, fit, decide } = useCharacter();
  return useMemo(() => {
    const { rig, origins } = character;
    const { tree } = fit.state.intake;
    const nodeOf = (bone: number) =>
      origins ? (origins[rig.bones[bone].nodeIndex] ?? NO_NODE) : rig.bones[bone].nodeIndex;
    const nameOf = (bone: number) => rig.bones[bone].name.trim().slice(0, 200) || `bone ${bone}`;
    const bonesOf = (plan: PlannedRepair) => (plan.kind === 'reparent' ? [...plan.bones, plan.parent] : plan.bones);
    const first = nextMade(tree);
    const repairsOf = (plan: PlannedRepair): TreeRepair[] =>
      plan.bones.map((bone, at) => {
        const node = nodeOf(bone);
        if (plan.kind === 'reparent')
          return {
            kind: 'reparent',
            node,
            parent: nodeOf(plan.parent),
            name: nameOf(bone),
            parentName: nameOf(plan.parent),
          };
        if (plan.kind === 'collapse') return { kind: 'collapse', node, name: nameOf(bone) };
        return {
          kind: 'insert',
          node,
          share: INSERT_SHARE,
          name: `${nameOf(bone).slice(0, 190)}_above`,
          made: first - at,
        };
      });
    return {
      can: (plan) => isPossible(rig, plan) && bonesOf(plan).every((bone) => nodeOf(bone) !== NO_NODE),
      carryOut: (plan) => decide({ tree: [...tree, ...repairsOf(plan)] }),
    };
  }, [character, fit, decide]);
}
