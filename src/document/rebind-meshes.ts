import type { Accessor, Document, Mesh, Node, Primitive, PrimitiveTarget, Skin } from '@gltf-transform/core';
import {
  writeSkinnedDeltas,
  writeSkinnedNormalDeltas,
  writeSkinnedNormals,
  writeSkinnedPositions,
  writeSkinnedTangents,
  type SkinInput,
} from '@/core/geometry/skin-kernel';
import { invertAffine, multiply, IDENTITY } from '@/core/math/mat4';
import type { SkeletonPlan } from '@/core/plan/plan-skeleton';
import { accessorFloats } from './accessor-floats';
import { bindMatrices, bufferOf, copyMesh, detach } from './document-parts';
import { readInfluences, writeInfluences } from './skin-influences';

/** Skins every vertex into the posture and binds it there again. */
export function rebindMeshes(document: Document, boneOf: ReadonlyMap<Node, number>, plan: SkeletonPlan): void {
  const done = new Set<Mesh>();
  const oldMatrices = new Map<Skin, Float64Array>();
  for (const skin of document.getRoot().listSkins()) {
    oldMatrices.set(skin, posedSkinMatrices(skin, boneOf, plan));
    writeInverseBinds(document, skin, boneOf, plan);
  }
  giveEachSkinItsMesh(document);
  for (const node of document.getRoot().listNodes()) {
    const skin = node.getSkin();
    const mesh = node.getMesh();
    if (!skin || !mesh) continue;
    if (!done.has(mesh)) {
      for (const primitive of mesh.listPrimitives())
        rebindPrimitive(document, primitive, skin, oldMatrices.get(skin) as Float64Array);
      done.add(mesh);
    }
    node.setTranslation([0, 0, 0]).setRotation([0, 0, 0, 1]).setScale([1, 1, 1]);
    detach(node);
    document.getRoot().listScenes()[0]?.addChild(node);
  }
}

/** A mesh shared by two skins stands in two poses: each gets its own copy, made before any of them is changed. */
function giveEachSkinItsMesh(document: Document): void {
  const meshOf = new Map<Mesh, Map<Skin, Mesh>>();
  for (const node of document.getRoot().listNodes()) {
    const [skin, mesh] = [node.getSkin(), node.getMesh()];
    if (!skin || !mesh) continue;
    const known = meshOf.get(mesh) ?? new Map<Skin, Mesh>();
    meshOf.set(mesh, known);
    if (!known.has(skin)) known.set(skin, known.size === 0 ? mesh : copyMesh(mesh));
    node.setMesh(known.get(skin) as Mesh);
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
  if (influences.isUneven || influences.isTidied) writeInfluences(document, primitive, influences);
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
