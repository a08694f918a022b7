import type { RootComponent } from './carry-options';

/** The whole travel of a figure on its floor, frame by frame: x, y, z and heading; [frameCount x 4], metres and radians. */
export type RootWay = Float32Array;

/** Numbers of a way: what a game sees of it. */
export interface WayNumbers {
  /** Along the floor, metres. */
  readonly lengthMetres: number;
  /** From the first frame to the last, degrees, turns counted. */
  readonly turnDeg: number;
  /** Highest against lowest, metres. */
  readonly riseMetres: number;
}

/** Where a root is in a frame that takes over some components: in the others it stays where it started. */
export function wayPlace(
  way: RootWay,
  frame: number,
  components: readonly RootComponent[],
): readonly [x: number, y: number, z: number] {
  const at = frame * 4;
  const [isFlat, isUp] = [components.includes('horizontal'), components.includes('vertical')];
  return [way[isFlat ? at : 0], way[isUp ? at + 1 : 1], way[isFlat ? at + 2 : 2]];
}

/** Length, turn and rise of what some components take over. */
export function wayNumbers(way: RootWay, components: readonly RootComponent[]): WayNumbers {
  const frames = way.length / 4;
  let length = 0;
  let [low, high] = [Infinity, -Infinity];
  for (let frame = 0; frame < frames; frame++) {
    const [x, y, z] = wayPlace(way, frame, components);
    [low, high] = [Math.min(low, y), Math.max(high, y)];
    if (frame === 0) continue;
    const [px, , pz] = wayPlace(way, frame - 1, components);
    length += Math.hypot(x - px, z - pz);
  }
  const turn = components.includes('turn') && frames > 0 ? way[(frames - 1) * 4 + 3] - way[3] : 0;
  return { lengthMetres: length, turnDeg: (turn * 180) / Math.PI, riseMetres: frames > 0 ? high - low : 0 };
}
