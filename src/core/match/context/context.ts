import type { Dialect } from '../../dialect/dialect';
import { readNames, type NameReadings } from '../../dialect/read-names';
import type { Vec3 } from '../../math/vec3';
import { axisVector } from '../../frame/normalise';
import { boneDirections, pointedAt } from '../../rig/bone-axis';
import type { Rig } from '../../rig/rig';
import { computeRigShape, type RigShape } from '../../rig/rig-shape';
import { findMirror, type Mirror } from '../mirror/mirror';
import { createNameScorer, type NameScorer } from '../names/name-score';
import type { WitnessSource } from '../witness/motion-witness';
import { growthStarts, parentsAlongBody } from './body-tree';
import { readStatedRoles, type Stated } from '../names/stated';

/** Which kinds of evidence count; all by default. For measuring what each is worth. */
export interface EvidenceSwitches {
  readonly names: boolean;
  readonly tree: boolean;
  readonly place: boolean;
}

/** All that the stages of the matcher share about one rig. */
export interface MatchContext {
  readonly rig: Rig;
  /** Shape by the rig's own tree. */
  readonly shape: RigShape;
  /** Shape by the tree that the search walks; the same unless the rig's tree does not follow the body. */
  readonly body: RigShape;
  readonly names: NameReadings;
  readonly mirror: Mirror;
  readonly nameScore: NameScorer;
  /** Which way each bone points, where the rig's bones lie along an axis of their own; null where they do not. */
  readonly directions: readonly (Vec3 | null)[] | null;
  /** Bones that a rig without a tree may be grown from, the one that it was grown from first; none where it has a tree. */
  readonly growthStarts: readonly number[];
  /** True where neither the file's tree nor names nor the bones' own axes told what hangs on what. */
  readonly isGuessed: boolean;
  /** What the file's own humanoid block says, by bone. */
  readonly stated: ReadonlyMap<number, Stated>;
  /** Up of the file as its format says, a weak hint. */
  readonly fileUp: Vec3;
  /** Front that goes with it by the usual convention; null where there is none. */
  readonly fileFront: Vec3 | null;
  /** Front as a person set it. */
  readonly givenFront: Vec3 | null;
  /** What the rig's clips show; costs time when it is first asked. */
  readonly witness: WitnessSource;
  readonly use: EvidenceSwitches;
  /** Whether a bone moves vertices; true throughout for a rig without skin. */
  readonly moves: (bone: number) => boolean;
}

const ALL_EVIDENCE: EvidenceSwitches = { names: true, tree: true, place: true };

/** What beside rig and dialect decides how a rig is looked at. */
export interface ContextOptions {
  readonly use?: Partial<EvidenceSwitches>;
  /** Front as a person set it. */
  readonly givenFront?: Vec3 | null;
  /** Bone that a rig without a tree is grown from; null for the likeliest. */
  readonly start?: number | null;
  /** What the rig's clips show. */
  readonly witness?: WitnessSource;
}

export function createContext(
  rig: Rig,
  dialect: Dialect,
  { use = {}, givenFront = null, start = null, witness = () => null }: ContextOptions = {},
): MatchContext {
  const switches = { ...ALL_EVIDENCE, ...use };
  const shape = computeRigShape(rig);
  const texts = switches.names ? rig.bones.map((bone) => (bone.isNamed ? bone.name : '')) : rig.bones.map(() => '');
  const names = readNames(texts, dialect, shape.parents);
  const directions = switches.place ? boneDirections(rig, shape) : null;
  const carriesSkin = (bone: number) => rig.bones[bone].skinWeight > 0;
  const pointing = directions && (() => pointedAt(shape, directions));
  const hints = { pointedAt: pointing, witness };
  const repaired = switches.tree ? parentsAlongBody(shape, names, carriesSkin, hints, start) : null;
  const body = repaired ? computeRigShape(rig, { parents: repaired }) : shape;
  const starts = switches.tree && start === null ? growthStarts(shape, names, carriesSkin, hints) : [];
  const stated = switches.names ? readStatedRoles(rig) : new Map<number, Stated>();
  const up = rig.source.up ?? '+Y';
  return {
    rig,
    shape,
    body,
    names,
    mirror: findMirror(body, names),
    nameScore: createNameScorer(names, stated),
    directions,
    growthStarts: starts,
    isGuessed: (starts.length > 1 || start !== null) && !pointing && !witness(),
    stated,
    fileUp: axisVector(up),
    fileFront: up === '+Y' ? [0, 0, 1] : up === '+Z' ? [0, -1, 0] : null,
    givenFront,
    witness,
    use: switches,
    moves: (bone) => !shape.hasSkin || rig.bones[bone].skinWeight > 0,
  };
}
