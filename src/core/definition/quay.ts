import {
  ARM_PARTS,
  DefinitionSchema,
  DIGITS,
  LEG_PARTS,
  SIDES,
  digitRoles,
  type Definition,
  type Digit,
  type Line,
  type Role,
  type Side,
} from './definition';
import { fromAxisAngle, rotate } from '../math/quat';
import { normalise, type Vec3 } from '../math/vec3';

const DEGREE = Math.PI / 180;
const REQUIRED_PARTS = new Set(['UpperLeg', 'LowerLeg', 'Foot', 'UpperArm', 'LowerArm', 'Hand']);

const PART_LABELS: Record<string, string> = {
  UpperLeg: 'thigh',
  LowerLeg: 'shin',
  Foot: 'foot',
  Toes: 'toes',
  Shoulder: 'collar',
  UpperArm: 'upper arm',
  LowerArm: 'forearm',
  Hand: 'hand',
};
const PART_EXPORTS: Record<string, string> = {
  UpperLeg: 'thigh',
  LowerLeg: 'shin',
  Foot: 'foot',
  Toes: 'toes',
  Shoulder: 'collar',
  UpperArm: 'upper_arm',
  LowerArm: 'forearm',
  Hand: 'hand',
};

interface Reference {
  direction: Vec3 | null;
  hinge: Vec3 | null;
  alignment: Role['alignment'];
  toleranceRad: number;
}

/** Reference of a limb part for the left side, body frame x left, y up, z forward; the right side mirrors x. */
const PART_REFERENCES: Record<string, Reference> = {
  UpperLeg: { direction: [0, -1, 0], hinge: [1, 0, 0], alignment: 'align', toleranceRad: 8 * DEGREE },
  LowerLeg: { direction: [0, -1, 0], hinge: [1, 0, 0], alignment: 'align', toleranceRad: 8 * DEGREE },
  Foot: { direction: [0, 0, 1], hinge: [1, 0, 0], alignment: 'yaw', toleranceRad: 10 * DEGREE },
  Toes: { direction: [0, 0, 1], hinge: [1, 0, 0], alignment: 'leave', toleranceRad: 20 * DEGREE },
  Shoulder: { direction: [1, 0, 0], hinge: [0, 1, 0], alignment: 'leave', toleranceRad: 35 * DEGREE },
  UpperArm: { direction: [1, 0, 0], hinge: [0, -1, 0], alignment: 'align', toleranceRad: 5 * DEGREE },
  LowerArm: { direction: [1, 0, 0], hinge: [0, -1, 0], alignment: 'align', toleranceRad: 5 * DEGREE },
  Hand: { direction: [1, 0, 0], hinge: [0, 0, -1], alignment: 'align', toleranceRad: 8 * DEGREE },
};

/** The thumb points forward, out and a little down, so that it never crosses the palm. */
const THUMB_DIRECTION = normalise([0.72, -0.12, 0.68]) as Vec3;
const FINGER_REFERENCE: Reference = {
  direction: [1, 0, 0],
  hinge: [0, 0, -1],
  alignment: 'align',
  toleranceRad: 20 * DEGREE,
};
/**
 * Fingers fan out as a relaxed hand holds them, degrees ahead of straight out. Made parallel they would sink into one
 * another on every hand that is modelled that way.
 */
const FAN_DEGREES: Readonly<Record<Exclude<Digit, 'Thumb'>, number>> = { Index: 10, Middle: 2, Ring: -7, Little: -16 };

function fingerReference(digit: Exclude<Digit, 'Thumb'>): Reference {
  const fan = (v: Vec3 | null): Vec3 | null => v && rotate(fromAxisAngle([0, -1, 0], FAN_DEGREES[digit] * DEGREE), v);
  return {
    ...FINGER_REFERENCE,
    direction: fan(FINGER_REFERENCE.direction),
    hinge: fan(FINGER_REFERENCE.hinge),
  };
}

const THUMB_REFERENCE: Reference = {
  ...FINGER_REFERENCE,
  direction: THUMB_DIRECTION,
  hinge: [0, 1, 0],
  toleranceRad: 35 * DEGREE,
};

const CENTRE: {
  id: string;
  label: string;
  required: boolean;
  parent: string | null;
  exportName: string;
  line: string;
}[] = [
  { id: 'hips', label: 'Hips', required: true, parent: null, exportName: 'quay_hips', line: 'trunk' },
  { id: 'spine', label: 'Spine', required: true, parent: 'hips', exportName: 'quay_back_1', line: 'trunk' },
  { id: 'chest', label: 'Chest', required: false, parent: 'spine', exportName: 'quay_back_2', line: 'trunk' },
  {
    id: 'upperChest',
    label: 'Upper chest',
    required: false,
    parent: 'chest',
    exportName: 'quay_back_3',
    line: 'trunk',
  },
  { id: 'neck', label: 'Neck', required: false, parent: 'upperChest', exportName: 'quay_neck', line: 'neckHead' },
  { id: 'head', label: 'Head', required: true, parent: 'neck', exportName: 'quay_head', line: 'neckHead' },
  { id: 'jaw', label: 'Jaw', required: false, parent: 'head', exportName: 'quay_jaw', line: 'jaw' },
];
const UPRIGHT: Reference = { direction: [0, 1, 0], hinge: [1, 0, 0], alignment: 'leave', toleranceRad: 30 * DEGREE };
const UNSTATED: Reference = { direction: null, hinge: null, alignment: 'leave', toleranceRad: 30 * DEGREE };

function mirrored(reference: Reference, side: Side): Reference {
  if (side === 'left') return reference;
  // A hinge is an axial vector: reflecting x keeps its x part and turns the others round.
  const flip = (v: Vec3 | null): Vec3 | null => v && [-v[0], v[1], v[2]];
  const flipAxial = (v: Vec3 | null): Vec3 | null => v && [v[0], -v[1], -v[2]];
  return { ...reference, direction: flip(reference.direction), hinge: flipAxial(reference.hinge) };
}

const otherSide = (side: Side): Side => (side === 'left' ? 'right' : 'left');
const capitalise = (text: string): string => text[0].toUpperCase() + text.slice(1);

/** Arms, hands and digits turned down rigidly from the T-pose, left side. */
function lowered(reference: Reference, armsDownRad: number): Reference {
  const turn = (v: Vec3 | null): Vec3 | null => v && rotate(fromAxisAngle([0, 0, 1], -armsDownRad), v);
  return { ...reference, direction: turn(reference.direction), hinge: turn(reference.hinge) };
}

/** Parts that a lowered arm takes along; the collar stays. */
const ARM_BELOW_COLLAR = new Set(['UpperArm', 'LowerArm', 'Hand']);

function limbRoles(side: Side, line: string, parts: readonly string[], parent: string, armsDownRad: number): Role[] {
  return parts.map((part, at) => ({
    id: side + part,
    label: capitalise(`${side} ${PART_LABELS[part]}`),
    required: REQUIRED_PARTS.has(part),
    parent: at === 0 ? parent : side + parts[at - 1],
    side,
    mirror: otherSide(side) + part,
    line,
    exportName: `quay_${PART_EXPORTS[part]}_${side}`,
    ...mirrored(ARM_BELOW_COLLAR.has(part) ? lowered(PART_REFERENCES[part], armsDownRad) : PART_REFERENCES[part], side),
  }));
}

function digitRoleList(side: Side, digit: Digit, armsDownRad: number): Role[] {
  const ids = digitRoles(side, digit);
  return ids.map((id, at) => ({
    id,
    label: capitalise(`${side} ${digit.toLowerCase()} ${at + 1}`),
    required: false,
    parent: at === 0 ? `${side}Hand` : ids[at - 1],
    side,
    mirror: digitRoles(otherSide(side), digit)[at],
    line: `${side}${digit}`,
    exportName: `quay_${digit.toLowerCase()}_${at + 1}_${side}`,
    ...mirrored(lowered(digit === 'Thumb' ? THUMB_REFERENCE : fingerReference(digit), armsDownRad), side),
  }));
}

/** Enough for any solver to tell the fold by, too little to be seen. */
const SMALL_BEND = { elbowRad: 3 * DEGREE, kneeRad: 3 * DEGREE };

interface Variant extends Pick<Definition, 'id' | 'label' | 'version' | 'pose'> {
  /** How far the arms of the reference pose hang below the horizontal, radians. */
  readonly armsDownRad: number;
}

function buildQuay({ armsDownRad, ...named }: Variant): Definition {
  const roles: Role[] = CENTRE.map((centre) => ({
    ...centre,
    side: 'centre' as const,
    mirror: null,
    ...(centre.id === 'jaw' ? UNSTATED : UPRIGHT),
  }));
  const lines: Line[] = [
    { id: 'trunk', label: 'Trunk', side: 'centre', roles: ['hips', 'spine', 'chest', 'upperChest'], maxBones: 9 },
    { id: 'neckHead', label: 'Neck and head', side: 'centre', roles: ['neck', 'head'], maxBones: 5 },
    { id: 'jaw', label: 'Jaw', side: 'centre', roles: ['jaw'], maxBones: 1 },
  ];
  for (const side of SIDES) {
    const name = capitalise(side);
    roles.push({
      id: `${side}Eye`,
      label: `${name} eye`,
      required: false,
      parent: 'head',
      side,
      mirror: `${otherSide(side)}Eye`,
      line: `${side}Eye`,
      exportName: `quay_eye_${side}`,
      ...UNSTATED,
    });
    lines.push({ id: `${side}Eye`, label: `${name} eye`, side, roles: [`${side}Eye`], maxBones: 1 });
    roles.push(
      ...limbRoles(side, `${side}Leg`, LEG_PARTS, 'hips', 0),
      ...limbRoles(side, `${side}Arm`, ARM_PARTS, 'upperChest', armsDownRad),
    );
    lines.push({
      id: `${side}Leg`,
      label: `${name} leg`,
      side,
      roles: LEG_PARTS.map((part) => side + part),
      maxBones: 4,
    });
    lines.push({
      id: `${side}Arm`,
      label: `${name} arm`,
      side,
      roles: ARM_PARTS.map((part) => side + part),
      maxBones: 4,
    });
    for (const digit of DIGITS) {
      roles.push(...digitRoleList(side, digit, armsDownRad));
      lines.push({
        id: `${side}${digit}`,
        label: `${name} ${digit.toLowerCase()}`,
        side,
        roles: digitRoles(side, digit),
        maxBones: 3,
      });
    }
  }
  return { ...named, smallBend: SMALL_BEND, root: { exportName: 'quay_root', required: true }, roles, lines };
}

/** The studio's shipped humanoid definition: VRM 1.0 role set, T-pose. */
export const QUAY: Definition = DefinitionSchema.parse(
  buildQuay({ id: 'quay', label: 'Quay', version: 3, pose: 'T', armsDownRad: 0 }),
);

/** The same roles with a reference pose whose arms hang 45 degrees. */
export const QUAY_A45: Definition = DefinitionSchema.parse(
  buildQuay({ id: 'quay-a45', label: 'Quay A45', version: 2, pose: 'A', armsDownRad: 45 * DEGREE }),
);

/** Definitions that ship, the studio's own first. */
export const SHIPPED_DEFINITIONS: readonly Definition[] = [QUAY, QUAY_A45];
