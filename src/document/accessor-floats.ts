import type { Accessor } from '@gltf-transform/core';

/** All elements of an accessor as floats, `size` numbers each; sparse and normalised data resolved. */
export function accessorFloats(accessor: Accessor, size: number): Float32Array {
  const array = accessor.getArray();
  // Plain floats need no conversion, and most data is plain.
  if (array instanceof Float32Array && accessor.getElementSize() === size) return array.slice();
  const out = new Float32Array(accessor.getCount() * size);
  const element: number[] = [];
  for (let at = 0; at < accessor.getCount(); at++) {
    accessor.getElement(at, element);
    for (let k = 0; k < size; k++) out[at * size + k] = element[k];
  }
  return out;
}
