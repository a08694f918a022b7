import type { Side } from '../../definition/definition';
import type { Geometry } from '../../geometry/geometry';
import { CARRYING } from '../../motion/carry-options';
import { planCarry, type CarryPlan } from '../../motion/carry-plan';
import { legLength } from '../../motion/fitted-rig';
import { fileSpaces } from '../../motion/joint-spaces';
import type { Motion } from '../../motion/motion';
import type { RootTravel } from '../../motion/carry-options';
import type { DrillLimits } from '../../profile/profile';
import type { CarrySubject } from '../carry-subject';
import { trackFigure } from './figure-track';
import { measureFeet, soleBones } from './foot-measures';
import { measureHouseFeet } from './house-feet';
import { jointBones, measureJoints } from './joint-measures';
import { breachesOf, rangeOf, type Breach, type Measure } from './measure';
import { findSoles } from './sole-points';

/** Where a trouble comes from, as far as measuring tells. */
type Cause = 'source' | 'adjustments' | 'posture' | 'proportions';

export interface DrillFlag {
  readonly measure: string;
  readonly fromFrame: number;
  readonly toFrame: number;
  readonly worst: number;
  readonly worstFrame: number;
  readonly limit: number;
  readonly unit: Measure['unit'];
  readonly bones: readonly string[];
  readonly sentence: string;
  readonly cause: Cause;
}

export interface DrillJudgement {
  readonly measures: readonly Measure[];
  /** Worst first. */
  readonly flags: readonly DrillFlag[];
  /** What could not be measured, and why. */
  readonly remarks: readonly string[];
}

export interface JudgeInput extends CarrySubject {
  readonly motion: Motion;
  readonly travel: RootTravel;
  /** The mesh, for its soles; null where there is none. */
  readonly geometry: Geometry | null;
  readonly limits: DrillLimits;
}

/** Spans that are nearer than this are one trouble, seconds. */
const MERGED_SECONDS = 0.1;
/** A foot in the reference posture that lies further off than this share of its limit is why. */
const POSTURE_SHARE = 0.7;

/** Carries a motion to a character and measures what it does there, frame by frame. */
export function judgeMotion({ motion, target, carrying, travel, geometry, limits }: JudgeInput): DrillJudgement {
  const spaces = fileSpaces(target);
  const plan = planCarry(motion, target, { carrying, travel, spaces, fileSpaces: spaces });
  const soles = findSoles(target, plan.standing, geometry);
  const leg = legLength(target, plan.standing);
  const track = trackFigure(plan, [...new Set([...jointBones(plan), ...soleBones(soles)])]);
  const namesOf = (side: Side): string[] => {
    const foot = target.roleBones.get(`${side}Foot`);
    return foot === undefined ? [] : [target.rig.bones[foot].name];
  };
  const joints = measureJoints(plan, track, limits);
  const measures = [...measureFeet({ motion, track, soles, leg, limits, namesOf }), ...joints];
  const gap = Math.max(1, Math.round(MERGED_SECONDS * motion.framesPerSecond));
  const byName = (list: readonly Measure[]) => new Map(list.map((measure) => [measure.name, measure]));
  // Only a trouble asks where it comes from: a clean motion is carried once.
  const bareJoints = lazily(() => {
    const bare = { ...target, armOffsetDeg: null };
    const wishes = { carrying: { ...CARRYING, hasTwist: carrying.hasTwist }, travel, spaces, fileSpaces: spaces };
    return byName(measureJoints(plan, trackFigure(planCarry(motion, bare, wishes), jointBones(plan)), limits));
  });
  const houseFeet = lazily(() => byName(measureHouseFeet(motion, target.definition, limits)));
  const postureOff = postureOf(plan, soles, leg);
  const causeOf = (measure: Measure, { worstFrame, limit }: Breach): Cause => {
    const isOut = (other: Measure | undefined): boolean => {
      const value = other?.values[worstFrame] ?? NaN;
      return limit === measure.band?.[0] ? value < limit : value > limit;
    };
    if (joints.includes(measure)) return isOut(bareJoints().get(measure.name)) ? 'source' : 'adjustments';
    if (postureOff > POSTURE_SHARE * limits.solePercent) return 'posture';
    return isOut(houseFeet().get(measure.name)) ? 'source' : 'proportions';
  };
  const flags = measures
    .flatMap((measure) =>
      breachesOf(measure, gap).map((breach) => ({ measure, breach, harm: harmOf(measure, breach) })),
    )
    .sort((a, b) => b.harm - a.harm)
    .map(({ measure, breach }): DrillFlag => {
      const cause = causeOf(measure, breach);
      return {
        measure: measure.name,
        fromFrame: breach.from,
        toFrame: breach.to,
        worst: breach.worst,
        worstFrame: breach.worstFrame,
        limit: breach.limit,
        unit: measure.unit,
        bones: measure.bones,
        sentence: sentenceOf(measure, breach, cause, leg),
        cause,
      };
    });
  return { measures, flags, remarks: remarksOf(plan, soles.isFromMesh, measures) };
}

/** Worked out when it is first asked for. */
function lazily<Value>(make: () => Value): () => Value {
  let held: { readonly value: Value } | null = null;
  return () => (held ??= { value: make() }).value;
}

/** How much further than allowed, times how long. */
function harmOf({ band }: Measure, { from, to, worst, limit }: Breach): number {
  const width = Math.max(1e-6, Math.abs(limit) || Math.abs((band?.[1] ?? 1) - (band?.[0] ?? 0)));
  return (Math.abs(worst - limit) / width) * Math.sqrt(to - from + 1);
}

/** Difference of the two soles in the reference posture, % of the leg. */
function postureOf(plan: CarryPlan, { points }: ReturnType<typeof findSoles>, leg: number): number {
  const lows = Object.values(points).map((list) => Math.min(...list.map(({ standing }) => standing[1])));
  return lows.length < 2 ? 0 : (Math.abs(lows[0] - lows[1]) / leg) * 100;
}

const CAUSE_TEXT: Readonly<Record<Cause, string>> = {
  source: 'A person of usual proportions does the same: edit the motion, or take another.',
  adjustments: 'Without the adjustments it stays within: change them.',
  posture: 'Its feet stand unlike in the reference pose: put both soles flat on the floor in Posture.',
  proportions: "Its legs are made otherwise than the source's: plant the feet, or allow for it.",
};

function sentenceOf(
  { subject, unit, bones }: Measure,
  { worst, worstFrame, limit }: Breach,
  cause: Cause,
  leg: number,
): string {
  const text = (value: number): string => {
    if (unit !== '%') return `${value.toFixed(unit === '°/s' ? 0 : 1)}${unit}`;
    return `${value.toFixed(1)} % of the leg (${(value * leg).toFixed(1)} cm)`;
  };
  const which = bones.length > 0 ? ` (${bones.join(', ')})` : '';
  return `Frame ${worstFrame}: ${subject}${which} is ${text(worst)}, allowed ${text(limit)}. ${CAUSE_TEXT[cause]}`;
}

function remarksOf(plan: CarryPlan, isFromMesh: boolean, measures: readonly Measure[]): string[] {
  const has = (start: string) =>
    measures.some(({ name, values }) => name.startsWith(start) && rangeOf(values) !== null);
  return [
    ...(has('sink') ? [] : ['No feet are assigned: soles and slides are not measured.']),
    ...(has('sink') && !isFromMesh ? ['No mesh on the feet: soles are taken below their joints.'] : []),
    ...(has('knee') ? [] : ['No whole legs are assigned: knees are not measured.']),
    ...(has('elbow') ? [] : ['No whole arms are assigned: elbows are not measured.']),
    ...(plan.motion.contacts.length > 0 ? [] : ['The motion knows no contacts: slides are not measured.']),
  ];
}
