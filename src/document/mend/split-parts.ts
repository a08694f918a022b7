import type { Accessor, Document, Mesh, Primitive } from '@gltf-transform/core';
import type { Mending } from '@/core/intake/mending';
import { bufferOf } from '../document-parts';
import { influenceSets } from '../skin-influences';

type Limits = NonNullable<Mending['split']>;

/** Splits primitives that have more bones, vertices or triangles than one draw may have; triangles stay in their order. */
export function splitParts(document: Document, limits: Limits): void {
  for (const mesh of document.getRoot().listMeshes())
    for (const primitive of mesh.listPrimitives())
      if (primitive.getMode() === 4) splitOne(document, mesh, primitive, limits);
}

function splitOne(document: Document, mesh: Mesh, primitive: Primitive, limits: Limits): void {
  const positions = primitive.getAttribute('POSITION');
  if (!positions) return;
  const corners =
    primitive.getIndices()?.getArray() ?? Uint32Array.from({ length: positions.getCount() }, (_, at) => at);
  const bonesOf = jointReader(primitive);
  const groups: number[][] = [];
  const [bones, vertices] = [new Set<number>(), new Set<number>()];
  let group: number[] = [];
  const isNew = (vertex: number): boolean => !vertices.has(vertex);
  const isOver = (count: number, most: number | null): boolean => most !== null && count > most;
  for (let at = 0; at + 2 < corners.length; at += 3) {
    const triangle = [corners[at], corners[at + 1], corners[at + 2]];
    const moved = triangle.flatMap(bonesOf);
    const [freshBones, freshVertices] = [new Set(moved.filter((bone) => !bones.has(bone))), triangle.filter(isNew)];
    if (
      group.length > 0 &&
      (isOver(bones.size + freshBones.size, limits.bones) ||
        isOver(vertices.size + new Set(freshVertices).size, limits.vertices) ||
        isOver(group.length / 3 + 1, limits.triangles))
    ) {
      groups.push(group);
      group = [];
      bones.clear();
      vertices.clear();
    }
    for (const bone of moved) bones.add(bone);
    for (const corner of triangle) vertices.add(corner);
    group.push(...triangle);
  }
  if (group.length > 0) groups.push(group);
  if (groups.length < 2) return;
  for (const each of groups) mesh.addPrimitive(partOf(document, primitive, each));
  mesh.removePrimitive(primitive);
  primitive.dispose();
}

/** Joints that move a vertex. */
function jointReader(primitive: Primitive): (vertex: number) => number[] {
  const sets = influenceSets(primitive).map(({ joint, weight }) => ({ joint, weight }));
  const [four, shares] = [
    [0, 0, 0, 0],
    [0, 0, 0, 0],
  ];
  const known = new Map<number, number[]>();
  return (vertex) => {
    const before = known.get(vertex);
    if (before) return before;
    const found: number[] = [];
    for (const { joint, weight } of sets) {
      joint.getElement(vertex, four);
      weight.getElement(vertex, shares);
      four.forEach((each, slot) => shares[slot] > 0 && found.push(each));
    }
    known.set(vertex, found);
    return found;
  };
}

/** Some triangles of a primitive with the vertices that they need, in the order in which these are met. */
function partOf(document: Document, primitive: Primitive, corners: readonly number[]): Primitive {
  const places = new Map<number, number>();
  for (const corner of corners) if (!places.has(corner)) places.set(corner, places.size);
  const kept = [...places.keys()];
  const cut = (accessor: Accessor): Accessor => {
    const size = accessor.getElementSize();
    const from = accessor.getArray();
    if (!from) return accessor;
    const out = from.slice(0, kept.length * size);
    kept.forEach((vertex, at) => out.set(from.subarray(vertex * size, vertex * size + size) as never, at * size));
    return accessor.clone().setArray(out).setBuffer(bufferOf(document));
  };
  const part = primitive.clone();
  for (const name of part.listSemantics()) {
    const accessor = part.getAttribute(name);
    if (accessor) part.setAttribute(name, cut(accessor));
  }
  for (const target of part.listTargets()) {
    const own = target.clone();
    for (const name of own.listSemantics()) {
      const accessor = own.getAttribute(name);
      if (accessor) own.setAttribute(name, cut(accessor));
    }
    part.removeTarget(target).addTarget(own);
  }
  const indices = Uint32Array.from(corners, (corner) => places.get(corner) ?? 0);
  return part.setIndices(document.createAccessor().setType('SCALAR').setArray(indices).setBuffer(bufferOf(document)));
}
