'use client';

import { useMemo } from 'react';
import type { TreeRepair } from '@/core/intake/decisions';
import { useCharacter } from '../character/character-context';

export interface TreeRepairs {
  /** False for joints that a repair made itself: they cannot be named in another one. */
  canRepair(bone: number): boolean;
  collapse(bones: readonly number[]): void;
  hang(bones: readonly number[], parent: number): void;
  insertAbove(bone: number): void;
}

/** Repairs of the tree, by bones as they stand now; kept as decisions about the file's own nodes. */
export function useTreeRepair(): TreeRepairs {
  const { character, fit, decide } = useCharacter();
  return useMemo(() => {
    const { rig, origins } = character;
    const nodeOf = (bone: number) => (origins ? (origins[rig.bones[bone].nodeIndex] ?? -1) : rig.bones[bone].nodeIndex);
    const nameOf = (bone: number) => rig.bones[bone].name.trim().slice(0, 200) || `bone ${bone}`;
    const add = (repairs: readonly TreeRepair[]) => { if (repairs.length > 0) decide({ tree: [...fit.state.intake.tree, ...repairs] }); };
    const usable = (bones: readonly number[]) => bones.filter((bone) => nodeOf(bone) >= 0);
    return {
      canRepair: (bone) => nodeOf(bone) >= 0,
      collapse: (bones) => add(usable(bones).map((bone) => ({ kind: 'collapse', node: nodeOf(bone), name: nameOf(bone) }))),
      hang: (bones, parent) => { if (nodeOf(parent) >= 0) add(usable(bones).map((bone) => ({ kind: 'reparent', node: nodeOf(bone), parent: nodeOf(parent), name: nameOf(bone), parentName: nameOf(parent) }))); },
      insertAbove: (bone) => add(usable([bone]).map(() => ({ kind: 'insert', node: nodeOf(bone), share: 0.5, name: `${nameOf(bone).slice(0, 190)}_above` }))),
    };
  }, [character, fit, decide]);
}
