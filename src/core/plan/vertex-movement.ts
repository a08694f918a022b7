import type { Geometry, GeometryPart } from '../geometry/geometry';
import { writeSkinnedPositions } from '../geometry/skin-kernel';
import { invertAffine, multiply, IDENTITY, type Mat4 } from '../math/mat4';
import type { Rig } from '../rig/rig';

/** A state of a mesh. */
export interface PosedMesh {
  readonly geometry: Geometry;
  readonly rig: Rig;
  /** World of each bone, by index; metres. */
  readonly worlds: readonly Mat4[];
}

/** The furthest that a vertex is from where it was. */
export interface VertexMovement {
  /** Metres. */
  readonly metres: number;
  /** Part that it belongs to; empty where nothing moved. */
  readonly part: string;
  /** Parts of which there is no counterpart with as many vertices. */
  readonly left: readonly string[];
}

export const NO_MOVEMENT: VertexMovement = { metres: 0, part: '', left: [] };

/**
 * Holds the vertices of two states of a mesh against each other, part by part; parts that were cut or joined are left.
 */
export function vertexMovement(before: PosedMesh, after: PosedMesh): VertexMovement {
  const others = new Map<string, GeometryPart[]>();
  for (const part of after.geometry.parts) others.set(keyOf(part), [...(others.get(keyOf(part)) ?? []), part]);
  let most = NO_MOVEMENT;
  const left: string[] = [];
  for (const part of before.geometry.parts) {
    const other = others.get(keyOf(part))?.shift();
    if (!other) {
      left.push(part.name);
      continue;
    }
    const [a, b] = [placesOf(part, before), placesOf(other, after)];
    for (let at = 0; at < a.length; at += 3) {
      const metres = Math.hypot(a[at] - b[at], a[at + 1] - b[at + 1], a[at + 2] - b[at + 2]);
      if (metres > most.metres) most = { metres, part: part.name, left: [] };
    }
  }
  return { ...most, left };
}

const keyOf = ({ name, material, positions }: GeometryPart): string =>
  JSON.stringify([name, material, positions.length]);

function placesOf(part: GeometryPart, { geometry, rig, worlds }: PosedMesh): Float32Array {
  const skin = part.perVertex > 0 ? geometry.skins[part.skin] : undefined;
  const out = new Float32Array(part.positions.length);
  if (!skin) {
    const single = { joints: new Uint16Array(out.length / 3), weights: new Float32Array(out.length / 3).fill(1) };
    const undo = part.bone >= 0 ? (invertAffine(rig.bones[part.bone].restWorld) ?? IDENTITY) : IDENTITY;
    const matrices = multiply(worlds[part.bone] ?? IDENTITY, multiply(undo, part.world));
    writeSkinnedPositions(out, part.positions, { ...single, perVertex: 1, matrices });
    return out;
  }
  const matrices = new Float64Array(skin.bones.length * 16);
  skin.bones.forEach((bone, joint) => {
    const inverse = Array.from(skin.inverseBinds.subarray(joint * 16, joint * 16 + 16));
    matrices.set(multiply(worlds[bone] ?? IDENTITY, inverse), joint * 16);
  });
  writeSkinnedPositions(out, part.positions, { ...part, matrices });
  return out;
}
