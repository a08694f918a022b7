import { Document, type Mesh, type Node } from '@gltf-transform/core';
import { createNodeIO } from '@/formats/gltf/node-io';
import { compose, invertAffine, multiply, decompose } from '@/core/math/mat4';
import { fromAxisAngle, multiply as multiplyQuat, type Quat } from '@/core/math/quat';
import { subtract, type Vec3 } from '@/core/math/vec3';
import type { PartMesh } from './mesh';
import type { Joint } from './skeleton';

interface Material {
  readonly colour: Vec3;
  readonly roughness?: number;
  readonly texture?: Uint8Array;
}

/** A clip made of swings: each keyed joint turns about a world axis and back. */
interface Swing {
  readonly joint: string;
  readonly axis: Vec3;
  readonly degrees: number;
}

export interface Figure {
  readonly name: string;
  readonly joints: readonly Joint[];
  readonly parts: readonly PartMesh[];
  readonly materials: Readonly<Record<string, Material>>;
  readonly clips: readonly { name: string; seconds: number; swings: readonly Swing[] }[];
  /** Shapes that the mesh can take: where a point of it goes. */
  readonly morphs?: readonly { readonly name: string; readonly move: (place: Vec3) => Vec3 }[];
  readonly extras?: (document: Document, nodes: ReadonlyMap<string, Node>) => void;
}

/** What is right about a figure, for tests: bone name -> role id, spare kind, `member` or `root`. */
export type TruthTable = Readonly<Record<string, string>>;

export const truthOf = (figure: Figure): TruthTable =>
  Object.fromEntries(figure.joints.map((joint) => [joint.name, joint.truth]));

/** The figure as a skinned GLB. The same figure gives the same bytes. */
export async function writeFigure(figure: Figure): Promise<Uint8Array> {
  const document = new Document();
  document.getRoot().getAsset().generator = 'Yarvo demo cast';
  const buffer = document.createBuffer();
  const scene = document.createScene(figure.name);
  const worlds = new Map(
    figure.joints.map((joint) => [joint.name, compose(joint.position, joint.rotation, [1, 1, 1])]),
  );
  const nodes = new Map<string, Node>();
  for (const joint of figure.joints) {
    const world = worlds.get(joint.name) as number[];
    const local = joint.parent
      ? multiply(invertAffine(worlds.get(joint.parent) as number[]) as number[], world)
      : world;
    const { translation, rotation } = decompose(local);
    const node = document
      .createNode(joint.name)
      .setTranslation([...translation])
      .setRotation([...rotation]);
    nodes.set(joint.name, node);
    if (joint.parent) nodes.get(joint.parent)?.addChild(node);
    else scene.addChild(node);
  }
  const skin = document.createSkin(figure.name);
  const jointIndex = new Map(figure.joints.map((joint, index) => [joint.name, index]));
  const inverse = new Float32Array(figure.joints.length * 16);
  figure.joints.forEach((joint, index) => {
    skin.addJoint(nodes.get(joint.name) as Node);
    inverse.set(invertAffine(worlds.get(joint.name) as number[]) as number[], index * 16);
  });
  skin.setInverseBindMatrices(document.createAccessor().setType('MAT4').setArray(inverse).setBuffer(buffer));
  const mesh = document.createMesh(figure.name);
  for (const [name, material] of Object.entries(figure.materials)) {
    const parts = figure.parts.filter((part) => part.material === name);
    if (parts.length > 0) mesh.addPrimitive(writePrimitive(document, parts, name, material, jointIndex));
  }
  if (figure.morphs) writeMorphs(document, mesh, figure.morphs);
  scene.addChild(document.createNode(`${figure.name} mesh`).setMesh(mesh).setSkin(skin));
  for (const clip of figure.clips) writeClip(document, clip, nodes, worlds);
  figure.extras?.(document, nodes);
  return createNodeIO().writeBinary(document);
}

function writePrimitive(
  document: Document,
  parts: readonly PartMesh[],
  name: string,
  material: Material,
  jointIndex: ReadonlyMap<string, number>,
) {
  const buffer = document.getRoot().listBuffers()[0];
  const accessor = (
    type: 'VEC2' | 'VEC3' | 'VEC4' | 'SCALAR',
    array: Float32Array | Uint16Array | Uint32Array | Uint8Array,
  ) => document.createAccessor().setType(type).setArray(array).setBuffer(buffer);
  const positions: number[] = [];
  const normals: number[] = [];
  const uvs: number[] = [];
  const indices: number[] = [];
  const joints: number[] = [];
  const weights: number[] = [];
  for (const part of parts) {
    const offset = positions.length / 3;
    positions.push(...part.positions);
    normals.push(...part.normals);
    uvs.push(...part.uvs);
    for (const index of part.indices) indices.push(index + offset);
    for (const list of part.weights) {
      for (let slot = 0; slot < 4; slot++) {
        const joint = list[slot] ? jointIndex.get(list[slot].bone) : 0;
        if (joint === undefined)
          throw new RangeError(`writeFigure: the mesh names the unknown bone ${list[slot].bone}`);
        joints.push(joint);
        weights.push(list[slot]?.weight ?? 0);
      }
    }
  }
  const [r, g, b] = material.colour;
  const surface = document
    .createMaterial(name)
    .setBaseColorFactor([r, g, b, 1])
    .setRoughnessFactor(material.roughness ?? 0.85)
    .setMetallicFactor(0);
  if (material.texture)
    surface.setBaseColorTexture(
      document.createTexture(`${name} weave`).setImage(material.texture).setMimeType('image/png'),
    );
  const primitive = document
    .createPrimitive()
    .setMaterial(surface)
    .setAttribute('POSITION', accessor('VEC3', new Float32Array(positions)))
    .setAttribute('NORMAL', accessor('VEC3', new Float32Array(normals)))
    .setAttribute(
      'JOINTS_0',
      accessor('VEC4', jointIndex.size > 255 ? new Uint16Array(joints) : new Uint8Array(joints)),
    )
    .setAttribute('WEIGHTS_0', accessor('VEC4', new Float32Array(weights)))
    .setIndices(accessor('SCALAR', positions.length / 3 > 65535 ? new Uint32Array(indices) : new Uint16Array(indices)));
  if (material.texture) primitive.setAttribute('TEXCOORD_0', accessor('VEC2', new Float32Array(uvs)));
  return primitive;
}

function writeMorphs(document: Document, mesh: Mesh, morphs: NonNullable<Figure['morphs']>): void {
  const [buffer] = document.getRoot().listBuffers();
  mesh.setExtras({ targetNames: morphs.map(({ name }) => name) });
  for (const primitive of mesh.listPrimitives()) {
    const places = primitive.getAttribute('POSITION')?.getArray() ?? [];
    for (const { name, move } of morphs) {
      const deltas = new Float32Array(places.length);
      for (let at = 0; at < places.length; at += 3) {
        const place: Vec3 = [places[at], places[at + 1], places[at + 2]];
        deltas.set(subtract(move(place), place), at);
      }
      // Most of a body stays: what does not move is not written.
      const accessor = document.createAccessor().setType('VEC3').setArray(deltas).setBuffer(buffer).setSparse(true);
      primitive.addTarget(document.createPrimitiveTarget(name).setAttribute('POSITION', accessor));
    }
  }
}

const FRAMES_PER_SECOND = 30;

function writeClip(
  document: Document,
  clip: Figure['clips'][number],
  nodes: ReadonlyMap<string, Node>,
  worlds: ReadonlyMap<string, readonly number[]>,
): void {
  const buffer = document.getRoot().listBuffers()[0];
  const animation = document.createAnimation(clip.name);
  const frameCount = Math.round(clip.seconds * FRAMES_PER_SECOND) + 1;
  const times = document
    .createAccessor()
    .setType('SCALAR')
    .setBuffer(buffer)
    .setArray(Float32Array.from({ length: frameCount }, (_, frame) => frame / FRAMES_PER_SECOND));
  for (const swing of clip.swings) {
    const node = nodes.get(swing.joint);
    const world = worlds.get(swing.joint);
    if (!node || !world)
      throw new RangeError(`writeFigure: the clip ${clip.name} names the unknown joint ${swing.joint}`);
    const rest = node.getRotation() as Quat;
    const worldRotation = decompose(world).rotation;
    const axis = rotateInverse(worldRotation, swing.axis);
    const values = new Float32Array(frameCount * 4);
    for (let frame = 0; frame < frameCount; frame++) {
      const phase = Math.sin((frame / (frameCount - 1)) * 2 * Math.PI);
      values.set(multiplyQuat(rest, fromAxisAngle(axis, (swing.degrees * phase * Math.PI) / 180)), frame * 4);
    }
    const output = document.createAccessor().setType('VEC4').setBuffer(buffer).setArray(values);
    const sampler = document.createAnimationSampler().setInput(times).setOutput(output).setInterpolation('LINEAR');
    animation
      .addSampler(sampler)
      .addChannel(document.createAnimationChannel().setTargetNode(node).setTargetPath('rotation').setSampler(sampler));
  }
}

function rotateInverse(rotation: Quat, axis: Vec3): Vec3 {
  const inverse: Quat = [-rotation[0], -rotation[1], -rotation[2], rotation[3]];
  const t = multiplyQuat(multiplyQuat(inverse, [axis[0], axis[1], axis[2], 0]), rotation);
  return [t[0], t[1], t[2]];
}
