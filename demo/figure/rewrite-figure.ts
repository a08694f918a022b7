import { multiply as times, normalise, rotate } from '@/core/math/quat';
import type { Vec3 } from '@/core/math/vec3';
import { turnOf, written, type Writing } from '../formats/gather';
import type { Figure } from './write-figure';

/** The same figure with other units and axes baked in, as careless exporters write it. */
export function rewriteFigure(figure: Figure, writing: Writing): Figure {
  const turn = (direction: Vec3) => rotate(turnOf(writing), direction);
  const each = (values: readonly number[], change: (value: Vec3) => Vec3) =>
    values.flatMap((_, at) => (at % 3 === 0 ? change([values[at], values[at + 1], values[at + 2]]) : []));
  return {
    ...figure,
    joints: figure.joints.map((joint) => ({
      ...joint,
      position: written(writing, joint.position),
      rotation: normalise(times(turnOf(writing), joint.rotation)),
    })),
    parts: figure.parts.map((part) => ({
      ...part,
      positions: each(part.positions, (point) => written(writing, point)),
      normals: each(part.normals, turn),
    })),
    clips: figure.clips.map((clip) => ({
      ...clip,
      swings: clip.swings.map((swing) => ({ ...swing, axis: turn(swing.axis) })),
    })),
  };
}
