import { cross, dot, normalise, subtract, type Vec3 } from '@/core/math/vec3';

export type PaneView = 'front' | 'side' | 'top' | 'free';

/** What a pane looks at, in metres, body axes. Flat views look along an axis; the free one circles the target. */
export interface PaneCamera {
  readonly view: PaneView;
  readonly target: Vec3;
  /** Half of the height that is seen at the target, metres. */
  readonly halfHeight: number;
  readonly yawRad: number;
  readonly pitchRad: number;
}

export const FREE_FIELD_RAD = (32 * Math.PI) / 180;

export interface CameraAxes {
  readonly right: Vec3;
  readonly up: Vec3;
  /** From the target to the eye. */
  readonly back: Vec3;
}

/** Screen axes of a pane. The side view shows the character's left side; the top view has the front at the bottom. */
export function cameraAxes(camera: PaneCamera): CameraAxes {
  switch (camera.view) {
    case 'front':
      return { right: [1, 0, 0], up: [0, 1, 0], back: [0, 0, 1] };
    case 'side':
      return { right: [0, 0, -1], up: [0, 1, 0], back: [1, 0, 0] };
    case 'top':
      return { right: [1, 0, 0], up: [0, 0, -1], back: [0, 1, 0] };
    case 'free': {
      const [cy, sy, cp, sp] = [
        Math.cos(camera.yawRad),
        Math.sin(camera.yawRad),
        Math.cos(camera.pitchRad),
        Math.sin(camera.pitchRad),
      ];
      const back: Vec3 = [sy * cp, sp, cy * cp];
      const right = normalise(cross([0, 1, 0], back)) ?? [1, 0, 0];
      return { right, up: cross(back, right), back };
    }
    default:
      return camera.view satisfies never;
  }
}

/** Nearer to the eye than this share of its distance nothing is drawn. */
const NEAR_SHARE = 1e-3;

/** Flat views look from anywhere outside the figure. */
const FLAT_DISTANCE = 50;

/** Distance of the eye from the target, metres. */
export const eyeDistance = (camera: PaneCamera): number =>
  camera.view === 'free'
    ? camera.halfHeight / Math.tan(FREE_FIELD_RAD / 2)
    : Math.max(FLAT_DISTANCE, camera.halfHeight * 4);

/** Writes a point's pixels into two places of an array; NaN behind the eye. */
export type ProjectInto = (x: number, y: number, z: number, out: Float32Array | number[], at: number) => void;

/** Points -> pixels in a pane of the given size, without a new array for each. */
export function projectorInto(camera: PaneCamera, width: number, height: number): ProjectInto {
  const { right, up, back } = cameraAxes(camera);
  const { target } = camera;
  const distance = eyeDistance(camera);
  const pixels = height / 2 / camera.halfHeight;
  return (x, y, z, out, at) => {
    const dx = x - target[0];
    const dy = y - target[1];
    const dz = z - target[2];
    const depth = camera.view === 'free' ? distance - (dx * back[0] + dy * back[1] + dz * back[2]) : distance;
    const k = depth <= distance * NEAR_SHARE ? NaN : (pixels * distance) / depth;
    out[at] = width / 2 + (dx * right[0] + dy * right[1] + dz * right[2]) * k;
    out[at + 1] = height / 2 - (dx * up[0] + dy * up[1] + dz * up[2]) * k;
  };
}

/** Point -> pixels in a pane of the given size; null behind the eye. */
export function projector(camera: PaneCamera, width: number, height: number): (point: Vec3) => [number, number] | null {
  const into = projectorInto(camera, width, height);
  return (point) => {
    const place: [number, number] = [0, 0];
    into(point[0], point[1], point[2], place, 0);
    return Number.isNaN(place[0]) ? null : place;
  };
}

/** Closer than this nothing is seen, metres. */
const LEAST_HALF_HEIGHT = 5e-4;

/** A camera that shows all of the points with some air around them. */
export function fitCamera(camera: PaneCamera, points: readonly Vec3[], width: number, height: number): PaneCamera {
  if (points.length === 0 || width <= 0 || height <= 0) return camera;
  const { right, up } = cameraAxes(camera);
  const low = [0, 1, 2].map((axis) => Math.min(...points.map((point) => point[axis])));
  const high = [0, 1, 2].map((axis) => Math.max(...points.map((point) => point[axis])));
  const target = low.map((value, axis) => (value + high[axis]) / 2) as unknown as Vec3;
  const span = (direction: Vec3) =>
    Math.max(...points.map((point) => Math.abs(dot(subtract(point, target), direction))));
  const halfHeight = Math.max(span(up), (span(right) * height) / width, LEAST_HALF_HEIGHT) * 1.16;
  return { ...camera, target, halfHeight };
}

/** The camera moved sideways by pixels. */
export function panCamera(camera: PaneCamera, dx: number, dy: number, height: number): PaneCamera {
  const { right, up } = cameraAxes(camera);
  const metres = (2 * camera.halfHeight) / height;
  const target = camera.target.map(
    (value, axis) => value - right[axis] * dx * metres + up[axis] * dy * metres,
  ) as unknown as Vec3;
  return { ...camera, target };
}
