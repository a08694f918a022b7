import type { Document, Node, Skin } from '@gltf-transform/core';
import { compose, decompose, invertAffine, multiply, IDENTITY, type Mat4 } from '@/core/math/mat4';
import { normalise as normaliseQuat, type Quat } from '@/core/math/quat';
import type { Vec3 } from '@/core/math/vec3';
import type { NamePlan } from '@/core/plan/plan-names';
import type { SkeletonPlan } from '@/core/plan/plan-skeleton';
import type { Rig, Transform } from '@/core/rig/rig';
import { accessorFloats } from './accessor-floats';
import { ancestorsOf, bindMatrices, detach } from './document-parts';

/** Props and other plain nodes keep their place on their bone, in the new space. Runs before the tree is rebuilt. */
export function moveRigidNodes(
  document: Document,
  boneOf: ReadonlyMap<Node, number>,
  plan: SkeletonPlan,
  rig: Rig,
): void {
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

/** Bones directly below bones, tops below the root, everything with its new name and transform. */
export function rebuildTree(
  document: Document,
  bones: readonly Node[],
  rig: Rig,
  plan: SkeletonPlan,
  names: NamePlan,
): void {
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
export function bindJoint(document: Document, skin: Skin, joint: Node, world: Mat4): void {
  const inverse = skin.getInverseBindMatrices();
  const count = skin.listJoints().length;
  const values = new Float32Array((count + 1) * 16);
  if (inverse) values.set(accessorFloats(inverse, 16));
  values.set(invertAffine(world) ?? IDENTITY, count * 16);
  skin.addJoint(joint);
  skin.setInverseBindMatrices(bindMatrices(document, values));
}
