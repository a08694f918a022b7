import { writtenMorphs } from '@/core/morphs/written-morphs';
import type { HandoffPlan } from '@/core/plan/handoff-plan';
import type { AddedBones } from '@/document/add-bones';

/** What a plan adds to the bones of its file, and how it names its morph targets. */
export const addedBy = ({ helpers, hung, morphs }: HandoffPlan): AddedBones => ({
  bones: helpers,
  hung,
  morphs: writtenMorphs(morphs.own, morphs.mapped),
});
