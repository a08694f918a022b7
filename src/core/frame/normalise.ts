import { fromAxes, conjugate, rotate, type Quat } from '../math/quat';
import { angleBetween, cross, dot, normalise as unit, reject, type Vec3 } from '../math/vec3';
import type { BodyFrame } from './body-frame';
import type { Rig } from '../rig/rig';

export const AXIS_NAMES = ['+X', '-X', '+Y', '-Y', '+Z', '-Z'] as const;
export type AxisName = (typeof AXIS_NAMES)[number];

const AXES: Record<AxisName, Vec3> = {
  '+X': [1, 0, 0],
  '-X': [-1, 0, 0],
  '+Y': [0, 1, 0],
  '-Y': [0, -1, 0],
  '+Z': [0, 0, 1],
  '-Z': [0, 0, -1],
};
export const axisVector = (name: AxisName): Vec3 => AXES[name];

/**
 * The similarity from file space to metres, Y up, facing +Z: p' = scale * rotate(rotation, p). Kept beside the file's
 * data, never baked into it before handoff.
 */
export interface Normalisation {
  /** Metres per file unit. */
  scale: number;
  /** What says so: a person, the file's header, the format's own unit, or nothing but the figure's height. */
  unitFrom: UnitEvidence;
  rotation: readonly [number, number, number, number];
  /** File axis that is the body's up, and the one it faces. */
  up: AxisName;
  facing: AxisName;
  /** What snapping to axes left over, radians; reported, not removed. */
  residualYawRad: number;
  residualTiltRad: number;
  /** Height of the figure in file units and in metres. */
  heightFile: number;
  heightMetres: number;
  /** Lowest point of the figure along up, metres. */
  floorMetres: number;
  /** Sentences on what was found and done. */
  notes: string[];
}

export const UNIT_EVIDENCE = ['hand', 'header', 'format', 'height'] as const;
type UnitEvidence = (typeof UNIT_EVIDENCE)[number];

/** Heights of grown people, metres: a unit that was only guessed and makes another height is in doubt. */
export const GROWN_METRES: readonly [number, number] = [1.4, 2.2];

/** Heights of a figure that pass without a question where the file states its unit. */
const PLAUSIBLE_METRES: readonly [number, number] = [0.4, 6];
/** Units that exporters mix up with metres: metres per unit, name. */
const UNITS: readonly (readonly [number, string])[] = [
  [1, 'metres'],
  [0.1, 'decimetres'],
  [0.01, 'centimetres'],
  [0.001, 'millimetres'],
  [0.0254, 'inches'],
  [0.3048, 'feet'],
  [100, 'hundreds of metres'],
  [10, 'tens of metres'],
  [39.37, 'inches written as metres'],
];
const USUAL_HEIGHT_METRES = 1.7;

/** What a person set in place of what was measured; null where nothing was. */
export interface NormalisationOverrides {
  readonly unitMetres: number | null;
  readonly up: AxisName | null;
  readonly facing: AxisName | null;
}

/**
 * Unit, up axis and facing of a rig, measured on the body and snapped to the file's axes, unless a person set them.
 * @param isFigure whether a body was found, whose height tells the unit.
 */
export function computeNormalisation(
  rig: Rig,
  frame: BodyFrame,
  overrides: NormalisationOverrides = { unitMetres: null, up: null, facing: null },
  isFigure = true,
): Normalisation {
  const up = overrides.up ?? nearestAxis(frame.up, AXIS_NAMES);
  const flat = unit(reject(frame.facing, AXES[up])) ?? [0, 0, 1];
  const across = AXIS_NAMES.filter((name) => Math.abs(dot(AXES[name], AXES[up])) < 0.5);
  const facing = overrides.facing && across.includes(overrides.facing) ? overrides.facing : nearestAxis(flat, across);
  const [upAxis, facingAxis] = [AXES[up], AXES[facing]];
  const left = cross(upAxis, facingAxis);
  const rotation = conjugate(fromAxes(left, upAxis, facingAxis));
  const [low, high] = extentAlong(rig, upAxis);
  const heightFile = Math.max(0, high - low);
  const { scale, unitFrom, note } = overrides.unitMetres
    ? {
        scale: overrides.unitMetres,
        unitFrom: 'hand' as const,
        note: `${heightFile.toFixed(2)} units tall; a unit is ${overrides.unitMetres} m, set by hand.`,
      }
    : isFigure
      ? chooseUnit(heightFile, rig.source.unitMetres)
      : statedUnit(heightFile, rig.source.unitMetres);
  const notes: string[] = [note];
  notes.push(
    overrides.up
      ? `${up} is up, set by hand.`
      : up === rig.source.up
        ? `${up} is up, as the file says.`
        : rig.source.up
          ? `The file says ${rig.source.up} is up, the body shows ${up}; ${uprightText(up)}.`
          : `The body's up is the file's ${up}; ${uprightText(up)}.`,
  );
  notes.push(
    overrides.facing
      ? `It faces ${facing}, set by hand.`
      : facing === '+Z'
        ? 'It faces +Z.'
        : `It faces the file's ${facing}; it is turned to face +Z.`,
  );
  const residualYawRad = signedAngle(facingAxis, flat, upAxis);
  if (Math.abs(residualYawRad) > 0.05)
    notes.push(`${degrees(residualYawRad)} of turn remain after snapping to the axes.`);
  return {
    scale,
    unitFrom,
    rotation,
    up,
    facing,
    residualYawRad,
    residualTiltRad: angleBetween(frame.up, upAxis),
    heightFile,
    heightMetres: heightFile * scale,
    floorMetres: low * scale,
    notes,
  };
}

/** The similarity applied to a file-space point: metres, body axes. */
export function toBody(normalisation: Pick<Normalisation, 'scale' | 'rotation'>, point: Vec3): Vec3 {
  const turned = rotate(normalisation.rotation as Quat, point);
  return [turned[0] * normalisation.scale, turned[1] * normalisation.scale, turned[2] * normalisation.scale];
}

/** A body that stands along Y stands upright already. */
const uprightText = (up: AxisName): string => (up === '+Y' ? 'no turn needed' : 'it is turned upright');

const degrees = (rad: number): string => `${((rad * 180) / Math.PI).toFixed(1)} degrees`;

function nearestAxis(direction: Vec3, names: readonly AxisName[]): AxisName {
  return names.reduce(
    (best, name) => (dot(AXES[name], direction) > dot(AXES[best], direction) + 1e-9 ? name : best),
    names[0],
  );
}

function signedAngle(from: Vec3, to: Vec3, axis: Vec3): number {
  return Math.atan2(dot(cross(from, to), axis), dot(from, to));
}

/** Of the joints' extent: a mesh that spans less is not the figure's body but a part of it. */
const BODY_SHARE = 0.5;

/**
 * Extent of the mesh, or of the joints where there is none, along an axis; file units. Joints beyond the mesh are targets
 * and handles: they make nobody taller.
 */
function extentAlong(rig: Rig, axis: Vec3): [number, number] {
  const ends = (points: readonly Vec3[]): [number, number] => {
    const heights = points.map((point) => dot(point, axis));
    return heights.length > 0 ? [Math.min(...heights), Math.max(...heights)] : [0, 0];
  };
  const joints = ends(rig.bones.map(({ restWorld }) => [restWorld[12], restWorld[13], restWorld[14]]));
  const { bounds } = rig.mesh;
  if (!bounds) return joints;
  const mesh = ends([bounds.min, bounds.max]);
  if (mesh[1] - mesh[0] >= BODY_SHARE * (joints[1] - joints[0])) return mesh;
  return [Math.min(mesh[0], joints[0]), Math.max(mesh[1], joints[1])];
}

/** What is no figure has no height to judge a unit by. */
const statedUnit = (heightFile: number, declared: number | null): ChosenUnit => ({
  scale: declared ?? 1,
  unitFrom: declared === null ? 'format' : 'header',
  note: `${(heightFile * (declared ?? 1)).toFixed(2)} m tall by the file's unit; without a figure it cannot be checked.`,
});

interface ChosenUnit {
  readonly scale: number;
  readonly unitFrom: UnitEvidence;
  readonly note: string;
}

/** The file's own unit where it makes a figure; a figure of 170 m or 2 cm was written in something else. */
function chooseUnit(heightFile: number, declared: number | null): ChosenUnit {
  const stated = declared ?? 1;
  const unitFrom = declared === null ? 'format' : 'header';
  const height = heightFile * stated;
  if (heightFile <= 0 || isWithin(height, declared === null ? GROWN_METRES : PLAUSIBLE_METRES))
    return {
      scale: stated,
      unitFrom,
      note:
        stated === 1
          ? `${heightFile.toFixed(2)} m tall, as written.`
          : `${heightFile.toFixed(2)} units tall; by the file's unit of ${unitText(stated)} that is ${height.toFixed(2)} m.`,
    };
  const [scale, name] = bestUnit(heightFile);
  const made = heightFile * scale;
  if (!isWithin(made, PLAUSIBLE_METRES)) {
    return {
      scale: stated,
      unitFrom,
      note: `${heightFile.toFixed(2)} units tall: no usual unit makes that a figure, so it is left as written.`,
    };
  }
  const against =
    declared === null ? '' : `; by the file's unit of ${unitText(stated)} it would be ${height.toFixed(2)} m`;
  // A file that states no unit and is not a grown figure in any other either: left as the format has it, and in doubt.
  if (declared === null && isWithin(height, PLAUSIBLE_METRES) && !isWithin(made, GROWN_METRES)) {
    return {
      scale: stated,
      unitFrom: 'height',
      note: `${heightFile.toFixed(2)} units tall, and no unit makes that a grown figure; left as written.`,
    };
  }
  return {
    scale,
    unitFrom: 'height',
    note: `${heightFile.toFixed(2)} units tall; read as ${name} that is ${made.toFixed(2)} m${against}.`,
  };
}

/** The usual unit that makes a figure's height the most usual one. */
function bestUnit(heightFile: number): readonly [number, string] {
  return UNITS.reduce((best, candidate) =>
    misfit(heightFile * candidate[0]) < misfit(heightFile * best[0]) ? candidate : best,
  );
}

/** How far a height is from the usual one, up or down. */
const misfit = (metres: number): number => Math.abs(Math.log(metres / USUAL_HEIGHT_METRES));
const isWithin = (metres: number, [least, most]: readonly [number, number]): boolean =>
  metres >= least && metres <= most;

/**
 * Whether a unit is only guessed, and guessed to a height that neither grown people have nor the studio states: somebody
 * has to say what it is, once for each source.
 */
export function isSizeInDoubt(
  { unitFrom, heightMetres }: Pick<Normalisation, 'unitFrom' | 'heightMetres'>,
  stated: { readonly least: number; readonly most: number } | null,
): boolean {
  if (unitFrom !== 'height' || heightMetres <= 0 || isWithin(heightMetres, GROWN_METRES)) return false;
  return !stated || !isWithin(heightMetres, [stated.least, stated.most]);
}

/** Units that would make a figure of that height grown, or at least a figure; the most usual height first. */
export const likelyUnits = (heightFile: number): { readonly metres: number; readonly name: string }[] =>
  UNITS.map(([metres, name]) => ({ metres, name }))
    .filter(({ metres }) => isWithin(heightFile * metres, PLAUSIBLE_METRES))
    .sort((a, b) => misfit(heightFile * a.metres) - misfit(heightFile * b.metres));

/** "centimetres"; "units of 0.42 m" for one that has no name. */
export const unitName = (metres: number): string =>
  UNITS.find(([size]) => Math.abs(size / metres - 1) < 1e-6)?.[1] ?? `units of ${unitText(metres)}`;

/** "1 cm", "1 m", "0.0254 m". */
export const unitText = (metres: number): string =>
  metres === 1 ? '1 m' : metres === 0.01 ? '1 cm' : metres === 0.001 ? '1 mm' : `${Number(metres.toPrecision(4))} m`;
