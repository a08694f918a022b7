import type { Side } from '../../definition/definition';
import type { Geometry } from '../../geometry/geometry';
import { CARRYING, type RootTravel } from '../../motion/carry-options';
import type { FrameSource } from '../../motion/carry-frames';
import type { CarryPlan, CarryTarget } from '../../motion/carry-plan';
import { legLength } from '../../motion/fitted-rig';
import type { Motion } from '../../motion/motion';
import { referenceFigure } from '../../motion/reference-figure';
import { alignPosture } from '../../posture/align-posture';
import type { DrillLimits } from '../../profile/drill-limits';
import { carryTo, type CarrySubject } from '../carry-subject';
import { bodyBones, fitBody } from './body-shape';
import { massBones, measureBalance, measurePath } from './body-measures';
import { houseClearance, measureClearance } from './clearance-measures';
import { trackFigure } from './figure-track';
import { measureFeet, soleBones } from './foot-measures';
import { measureHouseFeet } from './house-feet';
import { jointBones, measureJoints } from './joint-measures';
import { carrierBones, measureMapping } from './mapping-measures';
import { breachesOf, rangeOf, type Breach, type Measure } from './measure';
import { findSoles, type Soles } from '../../ground/sole-points';

/** Where a trouble comes from, as far as measuring tells. */
type Cause = 'source' | 'adjustments' | 'posture' | 'mapping' | 'proportions';

export interface DrillFlag {
  readonly measure: string;
  /** What it is about, as a person says it. */
  readonly subject: string;
  readonly fromFrame: number;
  readonly toFrame: number;
  readonly worst: number;
  readonly worstFrame: number;
  readonly limit: number;
  readonly unit: Measure['unit'];
  readonly bones: readonly string[];
  readonly sentence: string;
  readonly cause: Cause;
  /** How much further than allowed, in limits, times the root of the frames: by it flags are ranked. */
  readonly harm: number;
}

export interface DrillJudgement {
  readonly measures: readonly Measure[];
  /** Worst first. */
  readonly flags: readonly DrillFlag[];
  /** What could not be measured, and why. */
  readonly remarks: readonly string[];
  /** What lengths are counted in, metres. */
  readonly leg: number;
}

export interface JudgeInput extends Omit<CarrySubject, 'soles'> {
  readonly motion: Motion;
  readonly travel: RootTravel;
  /** The mesh, for its soles; null where there is none. */
  readonly geometry: Geometry | null;
  readonly limits: DrillLimits;
  /** Frames of this motion as they were shown, where they are not to be carried: turns of the same driven bones. */
  readonly shown?: Omit<FrameSource, 'plan'>;
}

/** Spans that are nearer than this are one trouble, seconds. */
const MERGED_SECONDS = 0.1;

/** Carries a motion to a character and measures what it does there, frame by frame. */
export function judgeMotion({ motion, target, carrying, travel, geometry, limits, shown }: JudgeInput): DrillJudgement {
  const solesOf = (to: CarryTarget): Soles =>
    findSoles(to, referenceFigure(to, to.spares).standing, geometry, carrying.contactPoints);
  const soles = solesOf(target);
  const { carrier } = carryTo(motion, { target, carrying, soles }, travel);
  const { plan } = carrier;
  const frames: FrameSource = shown ? { plan, placedBones: shown.placedBones, carry: shown.carry } : carrier;
  const { standing } = plan;
  const shape = geometry && fitBody(target, standing, geometry);
  const leg = legLength(target, standing);
  const track = trackFigure(frames, [
    ...new Set([
      ...jointBones(plan),
      ...massBones(plan),
      ...carrierBones(plan),
      ...soleBones(soles),
      ...(shape ? bodyBones(shape) : []),
    ]),
  ]);
  const nameOf = (bone: number): string => target.rig.bones[bone].name;
  const namesOf = (side: Side): string[] => {
    const foot = target.roleBones.get(`${side}Foot`);
    return foot === undefined ? [] : [nameOf(foot)];
  };
  const joints = measureJoints(plan, track, limits);
  const feet = measureFeet({ motion, track, soles, leg, limits, namesOf });
  const mapping = measureMapping(plan, track, leg, limits);
  const source = shape ? houseClearance(motion, target.definition) : new Map<string, Float64Array>();
  const clearance = shape ? measureClearance({ shape, track, leg, limits, source, nameOf }) : [];
  // A figure that is turned or lifted as a whole is meant to go another way.
  const isPlaced = carrying.layers.some(({ kind, isOn }) => kind === 'figure' && isOn);
  const isScaled = carrying.hipsHorizontal === 'legs' && !isPlaced;
  const path = measurePath(plan, track, { leg, isScaled, limits });
  const balance = measureBalance(plan, track, motion, soles, leg);
  const measures = [...feet, ...joints, ...clearance, path, ...(balance ? [balance] : []), ...mapping];
  const gap = Math.max(1, Math.round(MERGED_SECONDS * motion.framesPerSecond));
  const byName = (list: readonly Measure[]) => new Map(list.map((measure) => [measure.name, measure]));
  // Only a trouble asks where it comes from: a clean motion is carried once.
  const bare = lazily(() => {
    const { hasTwist, grounding } = carrying;
    const subject = {
      target: { ...target, armOffsetDeg: null },
      carrying: { ...CARRYING, hasTwist, grounding },
      soles,
    };
    const bareTrack = trackFigure(carryTo(motion, subject, travel).carrier, [
      ...new Set([...jointBones(plan), ...soleBones(soles), ...(shape ? bodyBones(shape) : [])]),
    ]);
    return byName([
      ...measureFeet({ motion, track: bareTrack, soles, leg, limits, namesOf }),
      ...measureJoints(plan, bareTrack, limits),
      ...(shape ? measureClearance({ shape, track: bareTrack, leg, limits, source, nameOf }) : []),
    ]);
  });
  const alignedFeet = lazily(() => {
    const aligned = { ...target, pose: alignPosture(target, target.pose) };
    const subject = { target: aligned, carrying, soles: solesOf(aligned) };
    const alignedTrack = trackFigure(carryTo(motion, subject, travel).carrier, soleBones(subject.soles));
    return byName(measureFeet({ motion, track: alignedTrack, soles: subject.soles, leg, limits, namesOf }));
  });
  const houseFeet = lazily(() => byName(measureHouseFeet(motion, target.definition, limits)));
  const causeOf = (measure: Measure, { worstFrame, limit }: Breach): Cause => {
    const isOut = (other: Pick<Measure, 'values'> | undefined): boolean => {
      const value = other?.values[worstFrame] ?? NaN;
      return limit === measure.band?.[0] ? value < limit : value > limit;
    };
    if (mapping.includes(measure)) return 'mapping';
    if (joints.includes(measure)) return isOut(bare().get(measure.name)) ? 'source' : 'adjustments';
    if (measure === path) return 'adjustments';
    if (clearance.includes(measure)) {
      const its = source.get(measure.name);
      if (its && isOut({ values: its })) return 'source';
      return isOut(bare().get(measure.name)) ? 'proportions' : 'adjustments';
    }
    if (isOut(houseFeet().get(measure.name))) return 'source';
    if (!isOut(bare().get(measure.name))) return 'adjustments';
    return isOut(alignedFeet().get(measure.name)) ? 'proportions' : 'posture';
  };
  const flags = measures
    .flatMap((measure) =>
      breachesOf(measure, gap).map((breach) => ({ measure, breach, harm: harmOf(measure, breach) })),
    )
    .sort((a, b) => b.harm - a.harm)
    .map(({ measure, breach, harm }): DrillFlag => {
      const cause = causeOf(measure, breach);
      return {
        measure: measure.name,
        subject: measure.subject,
        fromFrame: breach.from,
        toFrame: breach.to,
        worst: breach.worst,
        worstFrame: breach.worstFrame,
        limit: breach.limit,
        unit: measure.unit,
        bones: measure.bones,
        sentence: sentenceOf(measure, breach, leg, adviceOf(cause, clearance.includes(measure))),
        cause,
        harm,
      };
    });
  return { measures, flags, remarks: remarksOf(plan, soles.isFromMesh, measures), leg };
}

/** Worked out when it is first asked for. */
function lazily<Value>(make: () => Value): () => Value {
  let held: { readonly value: Value } | null = null;
  return () => (held ??= { value: make() }).value;
}

function harmOf({ band }: Measure, { from, to, worst, limit }: Breach): number {
  const width = Math.max(1e-6, Math.abs(limit) || Math.abs((band?.[1] ?? 1) - (band?.[0] ?? 0)));
  return (Math.abs(worst - limit) / width) * Math.sqrt(to - from + 1);
}

const CAUSE_TEXT: Readonly<Record<Cause, string>> = {
  source: 'A person of usual proportions does the same: edit the motion, or take another.',
  adjustments: 'Without the adjustments it stays within: change them.',
  posture: 'Aligned to the reference pose it stays within: align its posture.',
  mapping: 'Another bone leads there: look at what stands for it on Match.',
  proportions: 'A person of usual proportions stays within: its legs and feet are made otherwise; plant its feet.',
};

const WIDE_TEXT = 'A person of usual proportions has room there: hold its arms away, or turn the arm by a layer.';

const adviceOf = (cause: Cause, isClearance: boolean): string =>
  isClearance && cause === 'proportions' ? WIDE_TEXT : CAUSE_TEXT[cause];

function sentenceOf(
  { subject, unit, bones }: Measure,
  { worst, worstFrame, limit }: Breach,
  leg: number,
  advice: string,
): string {
  const text = (value: number): string => {
    if (unit !== '%') return `${value.toFixed(unit === '°/s' ? 0 : 1)}${unit}`;
    return `${value.toFixed(1)} % of the leg (${(value * leg).toFixed(1)} cm)`;
  };
  const which = bones.length > 0 ? ` (${bones.join(', ')})` : '';
  return `Frame ${worstFrame}: ${subject}${which} is ${text(worst)}, allowed ${text(limit)}. ${advice}`;
}

function remarksOf(plan: CarryPlan, isFromMesh: boolean, measures: readonly Measure[]): string[] {
  const has = (start: string) =>
    measures.some(({ name, values }) => name.startsWith(start) && rangeOf(values) !== null);
  return [
    ...(has('sink') ? [] : ['No feet are assigned: soles and slides are not measured.']),
    ...(has('sink') && !isFromMesh ? ['No mesh on the feet: soles are taken below their joints.'] : []),
    ...(has('knee') ? [] : ['No whole legs are assigned: knees are not measured.']),
    ...(has('handThigh') || has('handTrunk')
      ? []
      : ['No mesh on hands, thighs or trunk: the room between them is not measured.']),
    ...(has('elbow') ? [] : ['No whole arms are assigned: elbows are not measured.']),
    ...(plan.motion.contacts.length > 0 ? [] : ['The motion knows no contacts: slides are not measured.']),
  ];
}
