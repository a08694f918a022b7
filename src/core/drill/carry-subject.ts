import type { Definition } from '../definition/definition';
import { roleBonesOf, rootAboveHips, sparesOf, type FitState } from '../fit/fit';
import type { Normalisation } from '../frame/normalise';
import type { Geometry } from '../geometry/geometry';
import { groundedCarrier, type Grounded } from '../ground/grounded-carrier';
import { findSoles, type Soles } from '../ground/sole-points';
import type { Match } from '../match/context/match-types';
import type { Carrying, RootTravel } from '../motion/carry-options';
import { planCarry, type CarryTarget } from '../motion/carry-plan';
import type { FittedRig } from '../motion/fitted-rig';
import { fileSpaces } from '../motion/joint-spaces';
import type { Motion } from '../motion/motion';
import { referenceFigure } from '../motion/reference-figure';
import { FILE_REST, withAligned } from '../posture/posture';
import type { RigPose } from '../rig/pose';
import type { Rig } from '../rig/rig';

/** A character as it was read and matched. */
export interface ReadCharacter {
  readonly rig: Rig;
  readonly normalisation: Normalisation;
  readonly match: Match;
}

/** A character as motion is carried to it. */
export interface CarrySubject {
  readonly target: CarryTarget;
  readonly carrying: Carrying;
  /** What of its feet bears; null where it is taken from their joints. */
  readonly soles: Soles | null;
}

/** The subject with its soles found on its mesh, where its feet are to be stood. */
export function withSoles<Subject extends CarrySubject>(subject: Subject, geometry: Geometry | null): Subject {
  const { target, carrying } = subject;
  if (carrying.grounding === 'leave') return subject;
  const { standing } = referenceFigure(target, target.spares);
  return { ...subject, soles: findSoles(target, standing, geometry, carrying.contactPoints) };
}

/** Lays out a motion on a character and stands its feet, in the spaces of its file. */
export function carryTo(motion: Motion, { target, carrying, soles }: CarrySubject, travel: RootTravel): Grounded {
  const spaces = fileSpaces(target);
  const plan = planCarry(motion, target, { carrying, travel, spaces, fileSpaces: spaces });
  return groundedCarrier(plan, carrying, soles);
}

/** @param definition the one that the fit is to. */
export function carrySubject(read: ReadCharacter, definition: Definition, state: FitState): CarrySubject {
  const { rig, normalisation, match } = read;
  const roleBones = roleBonesOf(state);
  const target: CarryTarget = {
    rig,
    definition,
    normalisation,
    roleBones,
    pose: plain(state.posture),
    spares: sparesOf(match, state),
    rootBone: rootAboveHips(rig, state),
    armOffsetDeg: state.layers.armOffsetDeg,
  };
  return { target, carrying: state.carrying, soles: null };
}

/**
 * The figure that a clip is read on. Its fit may be another character's of the same skeleton, and to another definition
 * than the one that is asked for: then its roles are aligned to that one here.
 */
export function clipFigure(rig: Rig, normalisation: Normalisation, state: FitState, definition: Definition): FittedRig {
  const { posture, definitionId } = state;
  const input = { rig, definition, normalisation, roleBones: roleBonesOf(state) };
  if (definitionId === definition.id) return { ...input, pose: plain(posture) };
  const aligned = withAligned(input, { ...FILE_REST, taken: posture.taken, start: posture.start }, null);
  return { ...input, pose: plain(aligned) };
}

/** A posture says more than its pose, and all of it would be copied to a worker. */
const plain = ({ rotations, shift }: RigPose): RigPose => ({ rotations, shift });
