import * as three from 'three';

/** Quarter metres on the floor, three metres across, and a single line where the floor is seen edge on. */
export function makeFloor(): { flat: three.LineSegments; edge: three.LineSegments; material: three.LineBasicMaterial } {
  const points: number[] = [];
  const half = 1.5;
  for (let at = -half; at <= half + 1e-6; at += 0.25) points.push(at, 0, -half, at, 0, half, -half, 0, at, half, 0, at);
  const material = new three.LineBasicMaterial();
  const lines = (places: readonly number[]) =>
    new three.LineSegments(
      new three.BufferGeometry().setAttribute('position', new three.Float32BufferAttribute(places, 3)),
      material,
    );
  return { flat: lines(points), edge: lines([-20, 0, 0, 20, 0, 0, 0, 0, -20, 0, 0, 20]), material };
}
