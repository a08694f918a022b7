import { z } from 'zod';
import { SIDES, type Side } from '../definition/definition';
import type { Geometry } from '../geometry/geometry';
import { filePoses } from '../rig/local-pose';
import { computeWorlds, type RigPose } from '../rig/pose';
import type { AlignInput } from './align-order';
import { measureSides } from './body-measure';
import { classifyPosture } from './classify-posture';
import { limbHinges } from './hinges';
import { measurePosture } from './measure-posture';
import { measureSoles, selectFeet, type FootSelections } from './soles';
import { measureStature } from './stature';

const Maybe = z.number().nullable();

const SideSchema = z.strictObject({
  armDownDeg: Maybe,
  legOutDeg: Maybe,
  footOutDeg: Maybe,
  armCm: Maybe,
  legCm: Maybe,
  soleCm: Maybe,
  /** Null where the foot carries no mesh. */
  solePitchDeg: Maybe,
  soleRollDeg: Maybe,
});

/** Everything that is measured of a posture, in degrees, centimetres and metres. */
export const PostureSheetSchema = z.strictObject({
  class: z.enum(['T', 'A', 'other']),
  sentence: z.string(),
  heightM: z.number(),
  hipsCm: Maybe,
  solesFrom: z.enum(['mesh', 'bones']),
  sides: z.strictObject({ left: SideSchema, right: SideSchema }),
  roles: z.array(
    z.strictObject({
      role: z.string(),
      bone: z.string(),
      offDeg: z.number(),
      /** How far off it may be; older sheets state none where aligning leaves the segment. */
      allowedDeg: Maybe,
      rollDeg: Maybe,
    }),
  ),
  limbs: z.array(
    z.strictObject({
      limb: z.string(),
      bendDeg: z.number(),
      shownBy: z.enum(['pose', 'elsewhere', 'assumed']),
    }),
  ),
});
export type PostureSheet = z.infer<typeof PostureSheetSchema>;

export interface SheetInput extends AlignInput {
  /** Meshes of the figure; null for a skeleton alone. */
  readonly geometry: Geometry | null;
  /** The feet's vertices where they were taken out before. */
  readonly feet?: FootSelections;
}

/** Measures a posture: the sheet that is shown, printed and packed. */
export function measureSheet({ geometry, feet, ...input }: SheetInput, pose: RigPose): PostureSheet {
  const worlds = computeWorlds(input.rig, pose);
  const { deviations, frames } = measurePosture({ ...input, worlds });
  const summary = classifyPosture({ deviations, frames }, input.definition);
  const stature = measureStature({ ...input, geometry, worlds });
  const sides = measureSides({ ...input, worlds }, frames);
  const soles = geometry ? measureSoles(input, feet ?? selectFeet(input, geometry), pose) : [];
  const sideOf = (side: Side): PostureSheet['sides'][Side] => {
    const { armDownRad, legOutRad, footOutRad, armMetres, legMetres } = sides[side];
    const sole = soles.find((each) => each.side === side);
    return {
      armDownDeg: degrees(armDownRad),
      legOutDeg: degrees(legOutRad),
      footOutDeg: degrees(footOutRad),
      armCm: centimetres(armMetres),
      legCm: centimetres(legMetres),
      soleCm: centimetres(side === 'left' ? stature.leftSole : stature.rightSole),
      solePitchDeg: degrees(sole?.pitchRad ?? null),
      soleRollDeg: degrees(sole?.rollRad ?? null),
    };
  };
  return {
    class: summary.class,
    sentence: summary.sentence,
    heightM: rounded(stature.crown - stature.lowest),
    hipsCm: centimetres(stature.hips),
    solesFrom: stature.solesFrom,
    sides: Object.fromEntries(SIDES.map((side) => [side, sideOf(side)])) as PostureSheet['sides'],
    roles: deviations.map(({ role, boneIndex, deviationRad, toleranceRad, rollRad }) => ({
      role,
      bone: input.rig.bones[boneIndex].name,
      offDeg: degrees(deviationRad) as number,
      allowedDeg: degrees(toleranceRad),
      rollDeg: degrees(rollRad),
    })),
    limbs: limbHinges(input, pose, filePoses(input.rig)).map(({ limb, bendRad, shownBy }) => ({
      limb: `${limb.side}${limb.part}`,
      bendDeg: degrees(bendRad) as number,
      shownBy,
    })),
  };
}

/** The sheet of the same figure standing so much higher. */
export function raisedSheet(sheet: PostureSheet, liftCm: number): PostureSheet {
  const raised = (cm: number | null): number | null => (cm === null ? null : rounded(cm + liftCm));
  const { left, right } = sheet.sides;
  return {
    ...sheet,
    hipsCm: raised(sheet.hipsCm),
    sides: {
      left: { ...left, soleCm: raised(left.soleCm) },
      right: { ...right, soleCm: raised(right.soleCm) },
    },
  };
}

/** To a ten thousandth: finer than anything is measured. */
const rounded = (value: number): number => Math.round(value * 1e4) / 1e4;
const degrees = (rad: number | null): number | null => (rad === null ? null : rounded((rad * 180) / Math.PI));
const centimetres = (metres: number | null): number | null => (metres === null ? null : rounded(metres * 100));
