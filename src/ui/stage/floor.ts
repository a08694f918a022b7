import * as three from 'three';

export interface Floor {
  readonly flat: three.LineSegments;
  readonly edge: three.LineSegments;
  readonly material: three.LineBasicMaterial;
}

/** Quarter metres on the floor, three metres across, and a single line where the floor is seen edge on. */
export function makeFloor(): Floor {
  const points: number[] = [];
  const half = 1.5;
  for (let at = -half; at <= half + 1e-6; at += SQUARE)
    points.push(at, 0, -half, at, 0, half, -half, 0, at, half, 0, at);
  const material = new three.LineBasicMaterial();
  const lines = (places: readonly number[]) =>
    new three.LineSegments(
      new three.BufferGeometry().setAttribute('position', new three.Float32BufferAttribute(places, 3)),
      material,
    );
  return { flat: lines(points), edge: lines([-20, 0, 0, 20, 0, 0, 0, 0, -20, 0, 0, 20]), material };
}

/** Keeps the squares under a figure that travels: by whole squares, so that they stand still in the world. */
export function moveFloor({ flat, edge }: Floor, x: number, z: number): void {
  for (const lines of [flat, edge]) {
    const square = SQUARE * lines.scale.x;
    lines.position.x = Math.round(x / square) * square;
    lines.position.z = Math.round(z / square) * square;
  }
}

/** Metres, of a floor for a person. */
const SQUARE = 0.25;

/** What the floor is drawn for; others get one of another size. */
const USUAL_METRES = 1.8;

/** Puts the floor under the soles, its squares as large as a figure of that height wants: by tenfold steps. */
export function layFloor({ flat, edge }: Floor, heightMetres: number, floorMetres: number): void {
  const size = heightMetres > 0 ? 10 ** Math.round(Math.log10(heightMetres / USUAL_METRES)) : 1;
  for (const lines of [flat, edge]) {
    lines.scale.setScalar(size);
    lines.position.y = floorMetres;
  }
}
