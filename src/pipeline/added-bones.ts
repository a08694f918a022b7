import type { HandoffPlan } from '@/core/plan/handoff-plan';
import type { AddedBones } from '@/document/add-bones';

/** What a plan adds to the bones of its file. */
export const addedBy = ({ helpers, hung }: HandoffPlan): AddedBones => ({ bones: helpers, hung });
