import { Primitive, type Document, type Node, type PrimitiveTarget, type Skin } from '@gltf-transform/core';
import type { Geometry, GeometryPart, GeometrySkin, Morph } from '@/core/geometry/geometry';
import { IDENTITY } from '@/core/math/mat4';
import type { Rig } from '@/core/rig/rig';
import { accessorFloats } from './accessor-floats';
import { ancestorsOf } from './document-parts';
import { readInfluences } from './skin-influences';

/** The meshes of a document whose rig was read; points and lines are left out. */
export function readGeometry(document: Document, rig: Rig, place: string): Geometry {
  const nodes = document.getRoot().listNodes();
  const boneOf = new Map(rig.bones.map((bone) => [nodes[bone.nodeIndex], bone.index]));
  const skins = document.getRoot().listSkins();
  const parts: GeometryPart[] = [];
  const read = new Map<Primitive, ReturnType<typeof readPart>>();
  nodes.forEach((node, nodeIndex) => {
    const skin = node.getSkin();
    for (const primitive of node.getMesh()?.listPrimitives() ?? []) {
      const known = read.get(primitive);
      const part = known && known.perVertex > 0 === (skin !== null) ? known : readPart(primitive, skin, place);
      if (!part) continue;
      read.set(primitive, part);
      parts.push({
        ...part,
        name: node.getName() || `node ${nodeIndex}`,
        nodeIndex,
        skin: skin && part.perVertex > 0 ? skins.indexOf(skin) : -1,
        bone: nearestBone(node, boneOf),
        world: [...node.getWorldMatrix()],
      });
    }
  });
  return { parts, skins: skins.map((skin) => readSkin(skin, boneOf)) };
}

function readPart(
  primitive: Primitive,
  skin: Skin | null,
  place: string,
): Omit<GeometryPart, 'name' | 'nodeIndex' | 'skin' | 'bone' | 'world'> | null {
  const positions = primitive.getAttribute('POSITION');
  const indices = positions && trianglesOf(primitive, positions.getCount());
  if (!positions || !indices) return null;
  const normals = primitive.getAttribute('NORMAL');
  const influences = skin && readInfluences(primitive, skin.listJoints().length, place);
  return {
    material: primitive.getMaterial()?.getName() ?? '',
    positions: accessorFloats(positions, 3),
    normals: normals && accessorFloats(normals, 3),
    indices,
    perVertex: influences?.perVertex ?? 0,
    joints: influences?.joints ?? new Uint16Array(0),
    weights: influences?.weights ?? new Float32Array(0),
    morphs: primitive.listTargets().flatMap((target, index) => readMorph(target, index)),
  };
}

function readMorph(target: PrimitiveTarget, index: number): Morph[] {
  const [positions, normals] = [target.getAttribute('POSITION'), target.getAttribute('NORMAL')];
  if (!positions) return [];
  return [
    {
      name: target.getName() || `morph ${index}`,
      positions: accessorFloats(positions, 3),
      normals: normals && accessorFloats(normals, 3),
    },
  ];
}

/** Corners of triangles, three each; null for points and lines. Source: glTF 2.0 specification, 3.7.2.1. */
function trianglesOf(primitive: Primitive, vertexCount: number): Uint32Array | null {
  const given = primitive.getIndices()?.getArray();
  const corners = given ? Uint32Array.from(given) : Uint32Array.from({ length: vertexCount }, (_, at) => at);
  const triangleCount = Math.max(0, corners.length - 2);
  switch (primitive.getMode()) {
    case Primitive.Mode.TRIANGLES:
      return corners.subarray(0, corners.length - (corners.length % 3)).slice();
    case Primitive.Mode.TRIANGLE_STRIP:
      // Every other triangle of a strip is wound the other way round.
      return Uint32Array.from({ length: triangleCount * 3 }, (_, at) => {
        const [triangle, corner] = [Math.floor(at / 3), at % 3];
        return corners[triangle + (triangle % 2 === 1 && corner > 0 ? 3 - corner : corner)];
      });
    case Primitive.Mode.TRIANGLE_FAN:
      return Uint32Array.from({ length: triangleCount * 3 }, (_, at) =>
        at % 3 === 0 ? corners[0] : corners[Math.floor(at / 3) + (at % 3)],
      );
    default:
      return null;
  }
}

function readSkin(skin: Skin, boneOf: ReadonlyMap<Node, number>): GeometrySkin {
  const joints = skin.listJoints();
  const inverse = skin.getInverseBindMatrices();
  const inverseBinds = inverse ? accessorFloats(inverse, 16) : new Float32Array(joints.length * 16);
  if (!inverse) joints.forEach((_, joint) => inverseBinds.set(IDENTITY, joint * 16));
  return { bones: joints.map((joint) => boneOf.get(joint) ?? -1), inverseBinds };
}

const nearestBone = (node: Node, boneOf: ReadonlyMap<Node, number>): number =>
  [node, ...ancestorsOf(node)].map((above) => boneOf.get(above)).find((bone) => bone !== undefined) ?? -1;
