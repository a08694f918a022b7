import type { Document } from '@gltf-transform/core';
import { accessorFloats } from '../accessor-floats';
import { bufferOf } from '../document-parts';

/** Drops the triangles of vertices without a finite place, and gives these a place among the others. */
export function dropBrokenVertices(document: Document): void {
  for (const mesh of document.getRoot().listMeshes()) {
    for (const primitive of mesh.listPrimitives()) {
      const positions = primitive.getAttribute('POSITION');
      if (!positions || primitive.getMode() !== 4) continue;
      const places = accessorFloats(positions, 3).slice();
      const isBroken = (vertex: number): boolean =>
        ![places[vertex * 3], places[vertex * 3 + 1], places[vertex * 3 + 2]].every(
          (value) => Math.abs(value) <= LARGEST,
        );
      const broken = new Set(Array.from({ length: places.length / 3 }, (_, vertex) => vertex).filter(isBroken));
      if (broken.size === 0) continue;
      const sound = Array.from({ length: places.length / 3 }, (_, vertex) => vertex).find((each) => !broken.has(each));
      for (const vertex of broken)
        for (let k = 0; k < 3; k++) places[vertex * 3 + k] = sound === undefined ? 0 : places[sound * 3 + k];
      const corners =
        primitive.getIndices()?.getArray() ?? Uint32Array.from({ length: places.length / 3 }, (_, at) => at);
      const kept: number[] = [];
      for (let at = 0; at + 2 < corners.length; at += 3) {
        const triangle = [corners[at], corners[at + 1], corners[at + 2]];
        if (!triangle.some((corner) => broken.has(corner))) kept.push(...triangle);
      }
      const buffer = bufferOf(document);
      primitive.setAttribute('POSITION', document.createAccessor().setType('VEC3').setArray(places).setBuffer(buffer));
      if (kept.length === 0) primitive.dispose();
      else
        primitive.setIndices(
          document.createAccessor().setType('SCALAR').setArray(Uint32Array.from(kept)).setBuffer(buffer),
        );
    }
  }
}

/** What adding up cannot hold is no place; as readers judge it. */
const LARGEST = 1e15;
