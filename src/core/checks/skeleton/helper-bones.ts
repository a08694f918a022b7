import type { Helper } from '../../profile/profile';
import { listNames, type Check, type FindingDraft } from '../finding';
import type { HandoffPlan } from '../../plan/handoff-plan';

/** Bones that the engine wants beside the figure's own: targets for feet and hands, and where props are carried. */
export const checkHelperBones: Check = (plan) => [
  ...missing(plan, plan.profile.helpers, 'helpers', 'helper bone', 'The engine drives feet and hands towards them.'),
  ...missing(plan, plan.profile.attachments, 'attachments', 'attachment point', 'Props and lamps are hung on them.'),
];

function missing(
  plan: HandoffPlan,
  wanted: readonly Helper[],
  aspect: string,
  what: string,
  why: string,
): FindingDraft[] {
  const own = new Set(plan.names.names.map((name) => name.toLowerCase()));
  const gone = wanted.filter(({ name }) => !own.has(name.toLowerCase()));
  if (gone.length === 0) return [];
  const planned = new Set(plan.helpers.map(({ name }) => name));
  const lost = gone.filter(({ name }) => !planned.has(name));
  const names = (lost.length > 0 ? lost : gone).map(({ name }) => name);
  const many = names.length === 1 ? what : `${what}s`;
  return [
    {
      aspect,
      // Without its roles a helper has no place; that the roles are missing is told already.
      severity: plan.options.addsHelpers ? 'note' : 'blocker',
      sentence: `${names.length} ${many} ${names.length === 1 ? 'is' : 'are'} not in the file: ${listNames(names)}.`,
      measured: `${wanted.length - gone.length} of ${wanted.length}`,
      allowed: `all ${wanted.length}`,
      amount: { measured: wanted.length - gone.length, allowed: wanted.length, unit: 'bones' },
      why,
      remedy:
        lost.length === 0
          ? 'Handoff adds them.'
          : plan.options.addsHelpers
            ? 'Handoff adds them once the roles that they are placed by have bones.'
            : 'Let handoff add them.',
      parts: names,
      repair: plan.options.addsHelpers ? null : 'add-helpers',
    },
  ];
}
