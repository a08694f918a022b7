import { AnimationMixer, Matrix4, Object3D, Quaternion, Vector3, type AnimationClip } from 'three';
import { BVHLoader } from 'three/addons/loaders/BVHLoader.js';
import { loadWithThree } from '../../tests/helpers/three-oracle';

/**
 * Plays motions with three's own loaders and measures what a result has in common with its source: nothing here uses
 * Yarvo's arithmetic.
 */
export interface Played {
  /** Object of each role. */
  readonly joints: ReadonlyMap<string, Object3D>;
  /** Turn from the file's axes to the body's (x left, y up, z ahead), measured at rest. */
  readonly toBody: Quaternion;
  /** Turn of each role's object at rest, body frame. */
  readonly rest: ReadonlyMap<string, Quaternion>;
  readonly duration: number;
  readonly setTime: (seconds: number) => void;
}

export type Assigned = Readonly<Record<string, { readonly bone: string }>>;

export function playBvh(text: string, assignments: Assigned): Played {
  const { skeleton, clip } = new BVHLoader().parse(text);
  const scene = new Object3D().add(skeleton.bones[0]);
  const byName = new Map(skeleton.bones.map((bone) => [bone.name, bone as Object3D]));
  return played(scene, clip, byName, assignments, skeleton.bones[0]);
}

/** @param clip the clip to play; the first one where it is not named. */
export async function playGlb(bytes: Uint8Array, assignments: Assigned, clip?: string): Promise<Played> {
  const { scene, animations } = await loadWithThree(bytes);
  const byName = new Map<string, Object3D>();
  scene.traverse((object) => {
    const name = (object.userData.name as string | undefined) ?? object.name;
    // A mesh may be called as a bone is.
    const isBone = (object as { isBone?: boolean }).isBone === true;
    if (isBone || !byName.has(name)) byName.set(name, object);
  });
  const chosen = animations.find(({ name }) => name === clip) ?? animations[0];
  return played(scene, chosen, byName, assignments, scene);
}

function played(
  scene: Object3D,
  clip: AnimationClip,
  byName: ReadonlyMap<string, Object3D>,
  assignments: Assigned,
  mixed: Object3D,
): Played {
  const joints = new Map(
    Object.entries(assignments).flatMap(([role, { bone }]) => {
      const object = byName.get(bone);
      return object ? [[role, object] as const] : [];
    }),
  );
  scene.updateMatrixWorld(true);
  const toBody = bodyTurn(joints);
  const rest = new Map([...joints].map(([role, object]) => [role, turnOf(object, toBody)]));
  const mixer = new AnimationMixer(mixed);
  mixer.clipAction(clip).play();
  return {
    joints,
    toBody,
    rest,
    duration: clip.duration,
    setTime: (seconds) => {
      // At its very end a clip starts anew.
      mixer.setTime(Math.min(seconds, clip.duration - 1e-5));
      scene.updateMatrixWorld(true);
    },
  };
}

const placeOf = (object: Object3D): Vector3 => new Vector3().setFromMatrixPosition(object.matrixWorld);
const turnOf = (object: Object3D, toBody: Quaternion): Quaternion =>
  toBody.clone().multiply(object.getWorldQuaternion(new Quaternion()));

/** Axes of the body at rest, snapped to the file's where they lie within some degrees of them. */
function bodyTurn(joints: ReadonlyMap<string, Object3D>): Quaternion {
  const at = (role: string) => placeOf(joints.get(role) as Object3D);
  const left = at('leftUpperLeg')
    .sub(at('rightUpperLeg'))
    .add(at('leftUpperArm').sub(at('rightUpperArm')));
  const snapped = snap(left.normalize());
  const up = at('head').sub(at('hips')).normalize();
  const upright = snap(up.addScaledVector(snapped, -up.dot(snapped)).normalize());
  const ahead = snapped.clone().cross(upright);
  return new Quaternion().setFromRotationMatrix(new Matrix4().makeBasis(snapped, upright, ahead)).invert();
}

function snap(direction: Vector3): Vector3 {
  const axes = [0, 1, 2].flatMap((axis) => [1, -1].map((sign) => new Vector3().setComponent(axis, sign)));
  const nearest = axes.reduce((best, axis) => (axis.dot(direction) > best.dot(direction) ? axis : best));
  return nearest.dot(direction) > Math.cos((25 * Math.PI) / 180) ? nearest : direction;
}

/** Roles whose segment ends at the joint of another one. */
const SEGMENTS: Readonly<Record<string, string>> = {
  UpperArm: 'LowerArm',
  LowerArm: 'Hand',
  UpperLeg: 'LowerLeg',
  LowerLeg: 'Foot',
  ThumbMetacarpal: 'ThumbProximal',
  ThumbProximal: 'ThumbDistal',
  ...Object.fromEntries(
    ['Index', 'Middle', 'Ring', 'Little'].flatMap((digit) => [
      [`${digit}Proximal`, `${digit}Intermediate`],
      [`${digit}Intermediate`, `${digit}Distal`],
    ]),
  ),
};
const LEFT_ROLES = ['hips', 'spine', 'chest', 'upperChest', 'neck', 'leftShoulder', 'rightShoulder', 'head'];

export interface Agreement {
  /** Largest angle between a segment of source and result, degrees, and where. */
  readonly segmentsDeg: number;
  readonly worstSegment: string;
  /** Largest difference of the turn against the rest, over roles that no posture turns. */
  readonly turnsDeg: number;
  readonly worstTurn: string;
  readonly segments: number;
}

/** @param isSameRun roles whose turns may be compared: runs of as many joints. */
export function compareMotions(
  source: Played,
  result: Played,
  times: readonly { source: number; result: number }[],
  isSameRun: (role: string) => boolean,
): Agreement {
  let [segmentsDeg, worstSegment, turnsDeg, worstTurn, segments] = [0, '', 0, '', 0];
  for (const { source: from, result: to } of times) {
    source.setTime(from);
    result.setTime(to);
    for (const side of ['left', 'right'])
      for (const [upper, lower] of Object.entries(SEGMENTS)) {
        const directions = [source, result].map(({ joints, toBody }) => {
          const [a, b] = [joints.get(side + upper), joints.get(side + lower)];
          return a && b ? placeOf(b).sub(placeOf(a)).applyQuaternion(toBody) : null;
        });
        if (!directions[0] || !directions[1]) continue;
        segments++;
        const angle = angleBetween(directions[0], directions[1]);
        if (angle > segmentsDeg) [segmentsDeg, worstSegment] = [angle, `${side}${upper} at ${from.toFixed(2)} s`];
      }
    for (const role of LEFT_ROLES.filter(isSameRun)) {
      const turns = [source, result].map(({ joints, toBody, rest }) => {
        const joint = joints.get(role);
        return joint ? turnOf(joint, toBody).multiply((rest.get(role) as Quaternion).clone().invert()) : null;
      });
      if (!turns[0] || !turns[1]) continue;
      // In each figure's own body frame.
      const apart = turns[0].multiply(turns[1].invert());
      const angle = (2 * Math.atan2(Math.hypot(apart.x, apart.y, apart.z), Math.abs(apart.w)) * 180) / Math.PI;
      if (angle > turnsDeg) [turnsDeg, worstTurn] = [angle, `${role} at ${from.toFixed(2)} s`];
    }
  }
  return { segmentsDeg, worstSegment, turnsDeg, worstTurn, segments };
}

const angleBetween = (a: Vector3, b: Vector3): number =>
  (Math.atan2(a.clone().cross(b).length(), a.dot(b)) * 180) / Math.PI;
