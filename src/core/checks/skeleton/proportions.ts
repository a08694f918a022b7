import type { Vec3 } from '../../math/vec3';
import { distance } from '../../math/vec3';
import type { HandoffPlan } from '../../plan/handoff-plan';
import type { Check, FindingDraft } from '../finding';

/** A file keeps lengths in single precision. */
const SLACK = 1e-4;

/** Height, span of the arms and length of the legs are within what the engine's world is built for. */
export const checkProportions: Check = (plan) => {
  const { profile, normalisation, match } = plan;
  if (!match.creature.isHumanoid) return [];
  const found: FindingDraft[] = [];
  const { heightMetres: height } = normalisation;
  const say = (
    aspect: string,
    what: string,
    value: number | null,
    range: { least: number; most: number } | null,
    unit: string,
    { severity, repair }: Pick<FindingDraft, 'severity' | 'repair'> = { severity: 'caution', repair: null },
  ): void => {
    if (!range || value === null || (value >= range.least * (1 - SLACK) && value <= range.most * (1 + SLACK))) return;
    found.push({
      aspect,
      severity,
      sentence: `The ${what} is ${value.toFixed(2)} ${unit}; ${profile.label} expects ${range.least} to ${range.most}.`,
      measured: `${value.toFixed(2)} ${unit}`,
      allowed: `${range.least} to ${range.most} ${unit}`,
      amount: { measured: value, allowed: value < range.least ? range.least : range.most, unit },
      why: 'Doors, seats and reach in the game are built for these sizes.',
      remedy: repair
        ? 'Scale it to the nearest height that is allowed.'
        : 'Ask for another figure, or change the profile.',
      repair,
    });
  };
  say('height', 'height', height > 0 ? height : null, profile.heightMetres, 'm', {
    severity: 'blocker',
    repair: 'scale-to-height',
  });
  say(
    'span',
    'span of the arms',
    ratio(plan, [
      ['leftHand', 'leftUpperArm'],
      ['leftUpperArm', 'rightUpperArm'],
      ['rightUpperArm', 'rightHand'],
    ]),
    profile.ratios.span,
    'of the height',
  );
  say(
    'legs',
    'length of the legs',
    ratio(plan, [
      ['leftUpperLeg', 'leftLowerLeg'],
      ['leftLowerLeg', 'leftFoot'],
    ]),
    profile.ratios.legs,
    'of the height',
  );
  return found;
};

/** Sum of the ways from joint to joint, of the height; null where one is missing. */
function ratio({ rig, fit, normalisation }: HandoffPlan, ways: readonly (readonly [string, string])[]): number | null {
  const place = (role: string): Vec3 | null => {
    const bone = fit.assignments[role]?.boneIndex;
    const world = bone === undefined ? undefined : rig.bones[bone].restWorld;
    return world ? [world[12], world[13], world[14]] : null;
  };
  let sum = 0;
  for (const [from, to] of ways) {
    const [a, b] = [place(from), place(to)];
    if (!a || !b) return null;
    sum += distance(a, b);
  }
  return normalisation.heightFile > 0 ? sum / normalisation.heightFile : null;
}
