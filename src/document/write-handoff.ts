import type { Accessor, Document, Mesh, Node, Primitive, PrimitiveTarget, Skin } from '@gltf-transform/core';
import type { NamePlan } from '@/core/plan/plan-names';
import { mapRotation, mapTranslation, type SkeletonPlan } from '@/core/plan/plan-skeleton';
import {
  writeSkinnedDeltas,
  writeSkinnedNormalDeltas,
  writeSkinnedNormals,
  writeSkinnedPositions,
  writeSkinnedTangents,
  type SkinInput,
} from '@/core/geometry/skin-kernel';
import { compose, decompose, invertAffine, multiply, IDENTITY, type Mat4 } from '@/core/math/mat4';
import { normalise as normaliseQuat, type Quat } from '@/core/math/quat';
import type { Vec3 } from '@/core/math/vec3';
import type { Rig, Transform } from '@/core/rig/rig';
import { accessorFloats } from './accessor-floats';
import { ancestorsOf, bindMatrices, bufferOf } from './document-parts';
import { removeFacts } from './facts';
import { influenceSets, readInfluences, type Influences } from './skin-influences';

export interface HandoffReport {
  /** Nodes of the file that were not written: cameras, lights, empty containers. */
  readonly leftOut: readonly string[];
  /** Constant keys added to clips for joints that the posture changed. */
  readonly constantKeys: number;
}

/** Rotations closer than this are the same; no constant key is needed. */
const SAME_ROTATION = 1e-7;
const SAME_PLACE = 1e-7;

/**
 * Writes the character into the posture with the studio's names ("new bind"): every vertex is skinned into the posture
 * and the skin is bound there again. Changes `document`; pass one that was read for this purpose.
 */
export function writeHandoff(document: Document, rig: Rig, skeleton: SkeletonPlan, names: NamePlan): HandoffReport {
  const nodes = document.getRoot().listNodes();
  const bones = rig.bones.map((bone) => nodes[bone.nodeIndex]);
  const boneOf = new Map(bones.map((node, index) => [node, index]));
  const leftOut: string[] = [];
  rebindMeshes(document, boneOf, skeleton);
  moveRigidNodes(document, boneOf, skeleton, rig);
  rebuildTree(document, bones, rig, skeleton, names);
  const constantKeys = rewriteClips(document, bones, boneOf, skeleton);
  dropExtras(document, boneOf, leftOut);
  for (const accessor of document.getRoot().listAccessors()) {
    if (accessor.listParents().every((parent) => parent.propertyType === 'Root')) accessor.dispose();
  }
  removeFacts(document);
  document.getRoot().getAsset().generator = 'Yarvo handoff';
  return { leftOut, constantKeys };
}

function rebindMeshes(document: Document, boneOf: ReadonlyMap<Node, number>, plan: SkeletonPlan): void {
  const done = new Map<Mesh, Skin>();
  const oldMatrices = new Map<Skin, Float64Array>();
  for (const skin of document.getRoot().listSkins()) {
    oldMatrices.set(skin, posedSkinMatrices(skin, boneOf, plan));
    writeInverseBinds(document, skin, boneOf, plan);
  }
  for (const node of document.getRoot().listNodes()) {
    const skin = node.getSkin();
    let mesh = node.getMesh();
    if (!skin || !mesh) continue;
    // A mesh shared by two skins stands in two poses: each gets its own copy.
    if (done.has(mesh) && done.get(mesh) !== skin) {
      mesh = mesh.clone();
      for (const primitive of mesh.listPrimitives()) mesh.removePrimitive(primitive).addPrimitive(primitive.clone());
      node.setMesh(mesh);
      done.delete(mesh);
    }
    if (!done.has(mesh)) {
      for (const primitive of mesh.listPrimitives())
        rebindPrimitive(document, primitive, skin, oldMatrices.get(skin) as Float64Array);
      done.set(mesh, skin);
    }
    node.setTranslation([0, 0, 0]).setRotation([0, 0, 0, 1]).setScale([1, 1, 1]);
    detach(node);
    document.getRoot().listScenes()[0]?.addChild(node);
  }
}

/** similarity * posed joint world * file's inverse bind matrix, per joint of the skin. */
function posedSkinMatrices(skin: Skin, boneOf: ReadonlyMap<Node, number>, plan: SkeletonPlan): Float64Array {
  const inverse = skin.getInverseBindMatrices();
  const out = new Float64Array(skin.listJoints().length * 16);
  skin.listJoints().forEach((joint, at) => {
    const ibm = inverse ? inverse.getElement(at, []) : IDENTITY;
    const world = plan.posedWorlds[boneOf.get(joint) ?? -1] ?? IDENTITY;
    out.set(multiply(multiply(plan.similarity, world), ibm), at * 16);
  });
  return out;
}

function writeInverseBinds(
  document: Document,
  skin: Skin,
  boneOf: ReadonlyMap<Node, number>,
  plan: SkeletonPlan,
): void {
  const values = new Float32Array(skin.listJoints().length * 16);
  skin.listJoints().forEach((joint, at) => {
    values.set(invertAffine(plan.worlds[boneOf.get(joint) ?? -1] ?? IDENTITY) as number[], at * 16);
  });
  skin.setInverseBindMatrices(bindMatrices(document, values));
}

function rebindPrimitive(document: Document, primitive: Primitive, skin: Skin, matrices: Float64Array): void {
  const influences = readInfluences(primitive, skin.listJoints().length, 'handoff');
  const positions = primitive.getAttribute('POSITION');
  if (!influences || !positions) return;
  const input: SkinInput = {
    matrices,
    joints: influences.joints,
    weights: influences.weights,
    perVertex: influences.perVertex,
  };
  const accessor = (type: 'VEC3' | 'VEC4', array: Float32Array) =>
    document.createAccessor().setType(type).setArray(array).setBuffer(bufferOf(document));
  const run = (source: Accessor, size: 3 | 4, write: (out: Float32Array, from: Float32Array) => void) => {
    const from = accessorFloats(source, size);
    const out = new Float32Array(from.length);
    write(out, from);
    return accessor(size === 3 ? 'VEC3' : 'VEC4', out);
  };
  const normals = primitive.getAttribute('NORMAL');
  const plainNormals = normals ? accessorFloats(normals, 3) : null;
  const tangents = primitive.getAttribute('TANGENT');
  for (const target of primitive.listTargets()) rebindTarget(target, input, plainNormals, run);
  primitive.setAttribute(
    'POSITION',
    run(positions, 3, (out, from) => writeSkinnedPositions(out, from, input)),
  );
  if (normals)
    primitive.setAttribute(
      'NORMAL',
      run(normals, 3, (out, from) => writeSkinnedNormals(out, from, input)),
    );
  if (tangents)
    primitive.setAttribute(
      'TANGENT',
      run(tangents, 4, (out, from) => writeSkinnedTangents(out, from, input)),
    );
  if (influences.unnormalisedCount > 0 || influences.isTidied) writeInfluences(document, primitive, influences);
}

function rebindTarget(
  target: PrimitiveTarget,
  input: SkinInput,
  normals: Float32Array | null,
  run: (source: Accessor, size: 3 | 4, write: (out: Float32Array, from: Float32Array) => void) => Accessor,
): void {
  const [positions, normalDeltas, tangents] = ['POSITION', 'NORMAL', 'TANGENT'].map((name) =>
    target.getAttribute(name),
  );
  if (positions)
    target.setAttribute(
      'POSITION',
      run(positions, 3, (out, from) => writeSkinnedDeltas(out, from, input)),
    );
  if (normalDeltas && normals)
    target.setAttribute(
      'NORMAL',
      run(normalDeltas, 3, (out, from) => writeSkinnedNormalDeltas(out, from, normals, input)),
    );
  if (tangents)
    target.setAttribute(
      'TANGENT',
      run(tangents, 3, (out, from) => writeSkinnedDeltas(out, from, input)),
    );
}

/** Weights that add up to 1, each joint named once a vertex. */
function writeInfluences(document: Document, primitive: Primitive, { joints, weights, perVertex }: Influences): void {
  const vertexCount = weights.length / perVertex;
  influenceSets(primitive).forEach((_, set) => {
    const setJoints = new Uint16Array(vertexCount * 4);
    const setWeights = new Float32Array(vertexCount * 4);
    for (let vertex = 0; vertex < vertexCount; vertex++) {
      const from = vertex * perVertex + set * 4;
      setJoints.set(joints.subarray(from, from + 4), vertex * 4);
      setWeights.set(weights.subarray(from, from + 4), vertex * 4);
    }
    const buffer = bufferOf(document);
    primitive.setAttribute(
      `JOINTS_${set}`,
      document.createAccessor().setType('VEC4').setArray(setJoints).setBuffer(buffer),
    );
    primitive.setAttribute(
      `WEIGHTS_${set}`,
      document.createAccessor().setType('VEC4').setArray(setWeights).setBuffer(buffer),
    );
  });
}

/** Props and other plain nodes keep their place on their bone, in the new space. Runs before the tree is rebuilt. */
function moveRigidNodes(document: Document, boneOf: ReadonlyMap<Node, number>, plan: SkeletonPlan, rig: Rig): void {
  const holdsBones = new Set<Node>();
  for (const node of boneOf.keys()) for (let at = node.getParentNode(); at; at = at.getParentNode()) holdsBones.add(at);
  for (const node of document.getRoot().listNodes()) {
    if (boneOf.has(node) || node.getSkin() || holdsBones.has(node)) continue;
    const parent = node.getParentNode();
    const bone = parent ? boneOf.get(parent) : undefined;
    const local = compose(
      node.getTranslation() as Vec3,
      normaliseQuat(node.getRotation() as Quat),
      node.getScale() as Vec3,
    );
    if (bone !== undefined) {
      const world = multiply(multiply(plan.similarity, plan.posedWorlds[bone]), local);
      setTransform(node, decompose(multiply(invertAffine(plan.worlds[bone]) as Mat4, world)));
    } else if (!parent || holdsBones.has(parent)) {
      const above = parent ? worldOf(parent, rig, boneOf) : IDENTITY;
      setTransform(node, decompose(multiply(multiply(plan.similarity, above), local)));
      if (parent) {
        detach(node);
        document.getRoot().listScenes()[0]?.addChild(node);
      }
    }
  }
}

function worldOf(node: Node, rig: Rig, boneOf: ReadonlyMap<Node, number>): Mat4 {
  const bone = boneOf.get(node);
  if (bone !== undefined) return rig.bones[bone].restWorld;
  const local = compose(
    node.getTranslation() as Vec3,
    normaliseQuat(node.getRotation() as Quat),
    node.getScale() as Vec3,
  );
  const parent = node.getParentNode();
  return parent ? multiply(worldOf(parent, rig, boneOf), local) : local;
}

function setTransform(node: Node, transform: Pick<Transform, 'translation' | 'rotation' | 'scale'>): void {
  node
    .setTranslation([...transform.translation])
    .setRotation([...transform.rotation])
    .setScale([...transform.scale]);
}

function detach(node: Node): void {
  const parent = node.getParentNode();
  if (parent) parent.removeChild(node);
}

/** Bones directly below bones, tops below the root, everything with its new name and transform. */
function rebuildTree(document: Document, bones: readonly Node[], rig: Rig, plan: SkeletonPlan, names: NamePlan): void {
  const scene = document.getRoot().listScenes()[0] ?? document.createScene();
  document.getRoot().setDefaultScene(scene);
  const root = names.addsRoot ? document.createNode(names.rootName) : null;
  if (root) {
    scene.addChild(root);
    for (const skin of document.getRoot().listSkins()) bindJoint(document, skin, root, IDENTITY);
  }
  bones.forEach((node, index) => {
    setTransform(node, plan.locals[index]);
    node.setName(names.names[index]);
    const parent = rig.bones[index].parent;
    if (parent >= 0) {
      if (node.getParentNode() !== bones[parent]) {
        detach(node);
        bones[parent].addChild(node);
      }
      return;
    }
    detach(node);
    scene.removeChild(node);
    if (root) root.addChild(node);
    else scene.addChild(node);
  });
  bindLooseBones(document, bones, rig, plan);
  const top = root ?? bones.find((_, index) => rig.bones[index].parent < 0) ?? null;
  for (const skin of document.getRoot().listSkins()) {
    const isAbove = top && skin.listJoints().every((joint) => joint === top || ancestorsOf(joint).includes(top));
    skin.setSkeleton(isAbove ? top : null);
  }
}

/** A bone that no skin lists is a mere node to most engines, so it joins the skins whose bones it leads, or the first. */
function bindLooseBones(document: Document, bones: readonly Node[], rig: Rig, plan: SkeletonPlan): void {
  const skins = document.getRoot().listSkins();
  const joints = new Set(skins.flatMap((skin) => skin.listJoints()));
  rig.bones.forEach((_, index) => {
    if (joints.has(bones[index])) return;
    const led = skins.filter((skin) => skin.listJoints().some((joint) => ancestorsOf(joint).includes(bones[index])));
    for (const skin of led.length > 0 ? led : skins.slice(0, 1))
      bindJoint(document, skin, bones[index], plan.worlds[index]);
  });
}

/** A joint at a skin's end, so that readers count it as a bone; it moves no vertex. */
function bindJoint(document: Document, skin: Skin, joint: Node, world: Mat4): void {
  const inverse = skin.getInverseBindMatrices();
  const count = skin.listJoints().length;
  const values = new Float32Array((count + 1) * 16);
  if (inverse) values.set(accessorFloats(inverse, 16));
  values.set(invertAffine(world) ?? IDENTITY, count * 16);
  skin.addJoint(joint);
  skin.setInverseBindMatrices(bindMatrices(document, values));
}

function rewriteClips(
  document: Document,
  bones: readonly Node[],
  boneOf: ReadonlyMap<Node, number>,
  plan: SkeletonPlan,
): number {
  let constantKeys = 0;
  for (const animation of document.getRoot().listAnimations()) {
    const keyed = new Set<string>();
    for (const channel of animation.listChannels()) {
      const node = channel.getTargetNode();
      const bone = node ? boneOf.get(node) : undefined;
      const path = channel.getTargetPath();
      const sampler = channel.getSampler();
      const output = sampler?.getOutput();
      if (bone === undefined || !sampler || !output) continue;
      keyed.add(`${bone} ${path}`);
      // Channels may share a sampler; each bone has its own mapping, so each gets its own copy.
      const own = sampler.clone();
      own.setOutput(mapOutput(document, output, path, plan, bone, sampler.getInterpolation() === 'CUBICSPLINE'));
      animation.addSampler(own);
      channel.setSampler(own);
    }
    for (const sampler of animation.listSamplers()) {
      if (!animation.listChannels().some((channel) => channel.getSampler() === sampler)) sampler.dispose();
    }
    bones.forEach((node, bone) => {
      const [posed, rest] = [plan.locals[bone], plan.restLocals[bone]];
      if (!keyed.has(`${bone} rotation`) && rotationDifference(posed.rotation, rest.rotation) > SAME_ROTATION) {
        addConstantKey(document, animation, node, 'rotation', rest.rotation);
        constantKeys++;
      }
      if (
        !keyed.has(`${bone} translation`) &&
        Math.hypot(...posed.translation.map((value, axis) => value - rest.translation[axis])) > SAME_PLACE
      ) {
        addConstantKey(document, animation, node, 'translation', rest.translation);
        constantKeys++;
      }
    });
  }
  return constantKeys;
}

const rotationDifference = (a: Quat, b: Quat): number =>
  1 - Math.abs(a[0] * b[0] + a[1] * b[1] + a[2] * b[2] + a[3] * b[3]);

function mapOutput(
  document: Document,
  output: Accessor,
  path: string | null,
  plan: SkeletonPlan,
  bone: number,
  isSpline: boolean,
): Accessor {
  const size = path === 'rotation' ? 4 : 3;
  if (path === 'weights') return output;
  const values = accessorFloats(output, size);
  const mapping = plan.clipMappings[bone];
  for (let key = 0; key * size < values.length; key++) {
    const isTangent = isSpline && key % 3 !== 1;
    const at = key * size;
    if (path === 'rotation')
      values.set(mapRotation(mapping, [values[at], values[at + 1], values[at + 2], values[at + 3]]), at);
    else if (path === 'translation')
      values.set(mapTranslation(mapping, [values[at], values[at + 1], values[at + 2]], isTangent), at);
    else if (path === 'scale') for (let axis = 0; axis < 3; axis++) values[at + axis] /= mapping.restScale[axis];
  }
  return document
    .createAccessor()
    .setType(size === 4 ? 'VEC4' : 'VEC3')
    .setArray(values)
    .setBuffer(bufferOf(document));
}

function addConstantKey(
  document: Document,
  animation: ReturnType<Document['createAnimation']>,
  node: Node,
  path: 'rotation' | 'translation',
  value: readonly number[],
): void {
  const buffer = bufferOf(document);
  const input = document
    .createAccessor()
    .setType('SCALAR')
    .setArray(new Float32Array([0]))
    .setBuffer(buffer);
  const output = document
    .createAccessor()
    .setType(path === 'rotation' ? 'VEC4' : 'VEC3')
    .setArray(new Float32Array(value))
    .setBuffer(buffer);
  const sampler = document.createAnimationSampler().setInput(input).setOutput(output).setInterpolation('LINEAR');
  animation
    .addSampler(sampler)
    .addChannel(document.createAnimationChannel().setTargetNode(node).setTargetPath(path).setSampler(sampler));
}

/** Cameras and lights are no part of a character; containers that held only bones are empty now. */
function dropExtras(document: Document, boneOf: ReadonlyMap<Node, number>, leftOut: string[]): void {
  for (let again = true; again;) {
    again = false;
    for (const node of document.getRoot().listNodes()) {
      if (boneOf.has(node) || node.getMesh() || node.listChildren().length > 0) continue;
      const isRoot = document
        .getRoot()
        .listSkins()
        .some((skin) => skin.getSkeleton() === node);
      if (isRoot) continue;
      leftOut.push(node.getName() || 'unnamed node');
      for (const animation of document.getRoot().listAnimations()) {
        for (const channel of animation.listChannels()) if (channel.getTargetNode() === node) channel.dispose();
      }
      node.dispose();
      again = true;
    }
  }
  for (const camera of document.getRoot().listCameras()) camera.dispose();
}
