import { compose, decompose, invertAffine, multiply, type Mat4 } from '@/core/math/mat4';
import { fromAxisAngle, multiply as times, normalise, rotate, type Quat } from '@/core/math/quat';
import type { Vec3 } from '@/core/math/vec3';
import type { Figure } from '../figure/write-figure';

/** Units and axes a file is written in. */
export interface Writing {
  readonly unitsPerMetre: number;
  readonly up: 'Y' | 'Z';
}

export const METRES_Y_UP: Writing = { unitsPerMetre: 1, up: 'Y' };
export const CENTIMETRES_Z_UP: Writing = { unitsPerMetre: 100, up: 'Z' };

/** Y up, facing +Z -> Z up, facing -Y. */
const STAND_ON_Z: Quat = fromAxisAngle([1, 0, 0], Math.PI / 2);

export const turnOf = ({ up }: Writing): Quat => (up === 'Z' ? STAND_ON_Z : [0, 0, 0, 1]);

export function written(writing: Writing, point: Vec3): Vec3 {
  const [x, y, z] = rotate(turnOf(writing), point);
  return [x * writing.unitsPerMetre, y * writing.unitsPerMetre, z * writing.unitsPerMetre];
}

export interface WrittenJoint {
  readonly name: string;
  readonly parent: number;
  readonly world: Mat4;
  readonly translation: Vec3;
  readonly rotation: Quat;
}

/** Joints in the file's own units and axes. */
export function writtenJoints(figure: Figure, writing: Writing): WrittenJoint[] {
  const index = new Map(figure.joints.map((joint, at) => [joint.name, at]));
  const worlds = figure.joints.map((joint) =>
    compose(written(writing, joint.position), normalise(times(turnOf(writing), joint.rotation)), [1, 1, 1]),
  );
  return figure.joints.map((joint, at) => {
    const parent = joint.parent === null ? -1 : (index.get(joint.parent) as number);
    const local = parent < 0 ? worlds[at] : multiply(invertAffine(worlds[parent]) as number[], worlds[at]);
    const { translation, rotation } = decompose(local);
    return { name: joint.name, parent, world: worlds[at], translation, rotation };
  });
}

export interface WrittenMesh {
  readonly positions: Vec3[];
  readonly normals: Vec3[];
  readonly uvs: (readonly [number, number])[];
  readonly triangles: { readonly corners: readonly [number, number, number]; readonly material: number }[];
  /** Per joint: vertex and weight. */
  readonly weights: Map<number, [vertex: number, weight: number][]>;
  readonly materials: readonly string[];
}

/** The parts of a figure that `isMeant` takes, as one mesh with material numbers. */
export function writtenMesh(
  figure: Figure,
  writing: Writing,
  isMeant: (material: string) => boolean = () => true,
): WrittenMesh {
  const jointIndex = new Map(figure.joints.map((joint, at) => [joint.name, at]));
  const materials = Object.keys(figure.materials).filter(isMeant);
  const mesh: WrittenMesh = { positions: [], normals: [], uvs: [], triangles: [], weights: new Map(), materials };
  materials.forEach((name, material) => {
    for (const part of figure.parts.filter((candidate) => candidate.material === name)) {
      const offset = mesh.positions.length;
      part.weights.forEach((list, vertex) => {
        const at = vertex * 3;
        mesh.positions.push(written(writing, [part.positions[at], part.positions[at + 1], part.positions[at + 2]]));
        mesh.normals.push(rotate(turnOf(writing), [part.normals[at], part.normals[at + 1], part.normals[at + 2]]));
        mesh.uvs.push([part.uvs[vertex * 2], 1 - part.uvs[vertex * 2 + 1]]);
        for (const { bone, weight } of list) {
          const joint = jointIndex.get(bone);
          if (joint === undefined) throw new RangeError(`writtenMesh: the mesh names the unknown bone ${bone}`);
          const own = mesh.weights.get(joint) ?? [];
          own.push([offset + vertex, weight]);
          mesh.weights.set(joint, own);
        }
      });
      for (let at = 0; at < part.indices.length; at += 3) {
        mesh.triangles.push({
          corners: [part.indices[at] + offset, part.indices[at + 1] + offset, part.indices[at + 2] + offset],
          material,
        });
      }
    }
  });
  return mesh;
}

export const FRAMES_PER_SECOND = 30;

export interface WrittenClip {
  readonly name: string;
  readonly frameCount: number;
  /** Per keyed joint: local rotation at each frame. */
  readonly rotations: Map<number, Quat[]>;
}

/** Clips as frames, the same swings that the GLB writer makes. */
export function writtenClips(figure: Figure, joints: readonly WrittenJoint[], writing: Writing): WrittenClip[] {
  return figure.clips.map((clip) => {
    const frameCount = Math.round(clip.seconds * FRAMES_PER_SECOND) + 1;
    const rotations = new Map<number, Quat[]>();
    for (const swing of clip.swings) {
      const at = joints.findIndex((joint) => joint.name === swing.joint);
      const world = decompose(joints[at].world).rotation;
      const axis = rotate([-world[0], -world[1], -world[2], world[3]], rotate(turnOf(writing), swing.axis));
      rotations.set(
        at,
        Array.from({ length: frameCount }, (_, frame) => {
          const phase = Math.sin((frame / (frameCount - 1)) * 2 * Math.PI);
          return times(joints[at].rotation, fromAxisAngle(axis, (swing.degrees * phase * Math.PI) / 180));
        }),
      );
    }
    return { name: clip.name, frameCount, rotations };
  });
}

/** Euler angles in degrees for Rz * Ry * Rx. */
export function eulerXyz(q: Quat): Vec3 {
  const m = compose([0, 0, 0], q, [1, 1, 1]);
  const y = Math.atan2(-m[2], Math.sqrt(m[0] * m[0] + m[1] * m[1]));
  const degrees = 180 / Math.PI;
  return [Math.atan2(m[6], m[10]) * degrees, y * degrees, Math.atan2(m[1], m[0]) * degrees];
}

/** Numbers with nine digits, no negative zero. */
export const digits = (value: number): string => String(Number(value.toPrecision(9)) || 0);
