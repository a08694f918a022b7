import type { Side } from '../../definition/definition';
import type { Geometry } from '../../geometry/geometry';
import { CARRYING, type Carrying, type RootTravel } from '../../motion/carry-options';
import { planCarry, type CarryPlan, type CarryTarget } from '../../motion/carry-plan';
import { legLength } from '../../motion/fitted-rig';
import { fileSpaces } from '../../motion/joint-spaces';
import type { Motion } from '../../motion/motion';
import { alignPosture } from '../../posture/align-posture';
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

/** Carries a motion to a character and measures what it does there, frame by frame. */
export function judgeMotion({ motion, target, carrying, travel, geometry, limits }: JudgeInput): DrillJudgement {
  const planOf = (to: CarryTarget, how: Carrying): CarryPlan => {
    const spaces = fileSpaces(to);
    return planCarry(motion, to, { carrying: how, travel, spaces, fileSpaces: spaces });
  };
  const plan = planOf(target, carrying);
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
    const barePlan = planOf(bare, { ...CARRYING, hasTwist: carrying.hasTwist });
    return byName(measureJoints(plan, trackFigure(barePlan, jointBones(plan)), limits));
  });
  const alignedFeet = lazily(() => {
    const aligned = { ...target, pose: alignPosture(target, target.pose) };
    const alignedPlan = planOf(aligned, carrying);
    const alignedSoles = findSoles(aligned, alignedPlan.standing, geometry);
    const alignedTrack = trackFigure(alignedPlan, soleBones(alignedSoles));
    return byName(measureFeet({ motion, track: alignedTrack, soles: alignedSoles, leg, limits, namesOf }));
  });
  const houseFeet = lazily(() => byName(measureHouseFeet(motion, target.definition, limits)));
  const causeOf = (measure: Measure, { worstFrame, limit }: Breach): Cause => {
    const isOut = (other: Measure | undefined): boolean => {
      const value = other?.values[worstFrame] ?? NaN;
      return limit === measure.band?.[0] ? value < limit : value > limit;
    };
    if (joints.includes(measure)) return isOut(bareJoints().get(measure.name)) ? 'source' : 'adjustments';
    if (isOut(houseFeet().get(measure.name))) return 'source';
    return isOut(alignedFeet().get(measure.name)) ? 'proportions' : 'posture';
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

const CAUSE_TEXT: Readonly<Record<Cause, string>> = {
  source: 'A person of usual proportions does the same: edit the motion, or take another.',
  adjustments: 'Without the adjustments it stays within: change them.',
  posture: 'Aligned to the reference pose it stays within: align its posture.',
  proportions: 'A person of usual proportions stays within: its legs and feet are made otherwise.',
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
