import { describe, expect, it } from 'vitest';
import { decodeGeometry, encodeGeometry, type GeometryPart } from '@/core/geometry/geometry';
import { writeSkinnedPositions } from '@/core/geometry/skin-kernel';
import { multiply } from '@/core/math/mat4';
import { readSource } from '@/pipeline/read-files';
import { CAST } from '../../demo/cast/cast';
import { readGeometry } from './read-geometry';
import { readMotionTracks } from './read-motion';

const read = async (name: string) => {
  const { document, rig } = await readSource({ path: name, bytes: await CAST[name].make() }, []);
  return { rig, document, geometry: decodeGeometry(encodeGeometry(readGeometry(document, rig, name))) };
};

describe('geometry', () => {
  it('skinned by its own joints at rest fills the bounds that the reader measured', async () => {
    for (const name of ['lamplighter.glb', 'ferry-pilot.fbx', 'bell-ringer.dae']) {
      const { rig, geometry } = await read(name);
      const [min, max] = [
        [Infinity, Infinity, Infinity],
        [-Infinity, -Infinity, -Infinity],
      ];
      const grow = (part: GeometryPart) => {
        const { bones, inverseBinds } = geometry.skins[part.skin];
        const matrices = bones.flatMap((bone, joint) => [
          ...multiply(rig.bones[bone].restWorld, [...inverseBinds.subarray(joint * 16, joint * 16 + 16)]),
        ]);
        const out = new Float32Array(part.positions.length);
        writeSkinnedPositions(out, part.positions, { ...part, matrices });
        out.forEach((value, at) => {
          min[at % 3] = Math.min(min[at % 3], value);
          max[at % 3] = Math.max(max[at % 3], value);
        });
      };
      const skinned = geometry.parts.filter(({ skin }) => skin >= 0);
      expect(skinned.length, name).toBeGreaterThan(0);
      skinned.forEach(grow);
      const { bounds } = rig.mesh;
      const size = Math.max(...(bounds?.max ?? [0]).map((value, axis) => value - (bounds?.min[axis] ?? 0)));
      for (const axis of [0, 1, 2]) {
        expect(Math.abs(min[axis] - (bounds?.min[axis] ?? 0)), name).toBeLessThan(size * 1e-3);
        expect(Math.abs(max[axis] - (bounds?.max[axis] ?? 0)), name).toBeLessThan(size * 1e-3);
      }
    }
  });

  it('counts what the rig counts, with weights that add up to 1 and indices within their part', async () => {
    const { rig, geometry } = await read('eel-seller.glb');
    expect(geometry.parts.reduce((sum, { indices }) => sum + indices.length / 3, 0)).toBe(rig.mesh.triangleCount);
    for (const { positions, indices, weights, perVertex } of geometry.parts) {
      expect(Math.max(...indices)).toBeLessThan(positions.length / 3);
      for (let vertex = 0; perVertex > 0 && vertex < positions.length / 3; vertex++) {
        const own = weights.subarray(vertex * perVertex, (vertex + 1) * perVertex);
        expect(own.reduce((sum, weight) => sum + weight, 0)).toBeCloseTo(1, 5);
      }
    }
  });
});

it('motion tracks hold the keys of the file for every bone that a clip moves', async () => {
  const { document, rig } = await read('quay-walk.bvh');
  const [clip] = readMotionTracks(document, rig);
  expect(clip.name).toBe(rig.clips[0].name);
  expect(new Set(clip.tracks.map(({ bone }) => bone)).size).toBe(rig.clips[0].boneCount);
  for (const { path, times, values } of clip.tracks) {
    expect(values.length).toBe(times.length * (path === 'rotation' ? 4 : 3));
    expect([...times]).toEqual([...times].sort((a, b) => a - b));
  }
});
