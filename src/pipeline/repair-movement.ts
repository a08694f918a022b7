import { carrySubject, carryTo } from '@/core/drill/carry-subject';
import type { Definition } from '@/core/definition/definition';
import type { FitState } from '@/core/fit/fit';
import { decodeGeometry } from '@/core/geometry/geometry';
import { houseEntry } from '@/core/house/house-set';
import { sampleHouse } from '@/core/house/house-motion';
import type { FirstPass } from '@/core/match/first-pass';
import { compose, invertAffine, multiply, IDENTITY, type Mat4 } from '@/core/math/mat4';
import type { Quat } from '@/core/math/quat';
import { NO_ROOT_TRAVEL } from '@/core/motion/carry-options';
import { JointWalk } from '@/core/motion/joint-walk';
import { planHandoff } from '@/core/plan/handoff-plan';
import { NO_MOVEMENT, vertexMovement, type PosedMesh, type VertexMovement } from '@/core/plan/vertex-movement';
import type { EngineProfile } from '@/core/profile/profile';
import { computeWorlds } from '@/core/rig/pose';
import type { Rig } from '@/core/rig/rig';

/** A fit as it was or would be. */
export interface MovementSide extends FirstPass {
  readonly rig: Rig;
  readonly fit: FitState;
  /** Encoded. */
  readonly geometry: Uint8Array;
}

export interface MovementInput {
  readonly before: MovementSide;
  readonly after: MovementSide;
  readonly definition: Definition;
  readonly profile: EngineProfile;
}

/** How far vertices go by a change of the fit: as the file rests that is written, and while it moves. */
export interface Movement {
  readonly rest: VertexMovement;
  /** The same in frames of the house set; null where the figure cannot be moved. */
  readonly inMotion: VertexMovement | null;
}

/** Motions that bend most joints far, and how many frames of each are held against each other. */
const TRIED = ['arm-range', 'leg-range', 'trunk-range', 'walk', 'crouch'];
const FRAMES_EACH = 5;

/** Null where one of the two cannot be written at all. */
export function repairMovement({ before, after, definition, profile }: MovementInput): Movement | null {
  const meshes = [before, after].map((side) => ({ side, geometry: decodeGeometry(side.geometry) }));
  const written = meshes.flatMap(({ side, geometry }): PosedMesh[] => {
    const { skeleton } = planHandoff({ ...side, definition, profile });
    if ('problem' in skeleton) return [];
    const { similarity, posedWorlds } = skeleton.plan;
    return [{ geometry, rig: side.rig, worlds: posedWorlds.map((world) => multiply(similarity, world)) }];
  });
  if (written.length < 2) return null;
  const rest = vertexMovement(written[0], written[1]);
  const isMovable = [before, after].every(({ fit }) => fit.assignments.hips !== undefined);
  if (!isMovable) return { rest, inMotion: null };
  const players = meshes.map(({ side, geometry }) => ({ geometry, rig: side.rig, play: playerOf(side, definition) }));
  let inMotion: VertexMovement = { ...NO_MOVEMENT, left: rest.left };
  for (const entry of TRIED)
    for (let share = 0; share < FRAMES_EACH; share++) {
      const [a, b] = players.map(({ geometry, rig, play }): PosedMesh => ({
        geometry,
        rig,
        worlds: play(entry, (share + 0.5) / FRAMES_EACH),
      }));
      const moved = vertexMovement(a, b);
      if (moved.metres > inMotion.metres) inMotion = moved;
    }
  return { rest, inMotion };
}

/** Worlds of a figure's bones in a motion of the house set, at a share of its length. */
function playerOf(side: MovementSide, definition: Definition) {
  const { rig, fit, normalisation } = side;
  const subject = carrySubject(side, definition, fit);
  const carriers = new Map<string, ReturnType<typeof carryTo>['carrier']>();
  const carrierOf = (entry: string) => {
    const { make, settings } = houseEntry(entry);
    const fresh = () => {
      const carrying = { ...subject.carrying, grounding: 'leave' as const };
      return carryTo(sampleHouse(make(settings), definition, RATE), { ...subject, carrying }, NO_ROOT_TRAVEL).carrier;
    };
    const carrier = carriers.get(entry) ?? fresh();
    carriers.set(entry, carrier);
    return carrier;
  };
  const { scale, rotation } = normalisation;
  const toBody = compose([0, 0, 0], rotation as Quat, [scale, scale, scale]);
  const standing = computeWorlds(rig, subject.target.pose).map((world) => multiply(toBody, world));
  return (entry: string, share: number): Mat4[] => {
    const carrier = carrierOf(entry);
    const { plan } = carrier;
    const frame = Math.min(plan.motion.frameCount - 1, Math.floor(share * plan.motion.frameCount));
    const walk = new JointWalk(plan, carrier.placedBones);
    walk.walk(carrier.carry(frame, 1), 0);
    return rig.bones.map(({ index }) => {
      const now = compose(walk.placeOf(index), walk.turnOf(index), [1, 1, 1]);
      const stood = compose(plan.standing.places[index], plan.standing.rotations[index], [1, 1, 1]);
      return multiply(multiply(now, invertAffine(stood) ?? IDENTITY), standing[index]);
    });
  };
}

/** Frames are picked: there is no need for many. */
const RATE = 15;
