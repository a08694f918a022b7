import { Document } from '@gltf-transform/core';
import type { Vec3 } from '@/core/math/vec3';
import { createNodeIO } from '@/formats/gltf/node-io';
import { ellipsoid, tube, type PartMesh } from '../figure/mesh';

/** Meshes without a skeleton as one GLB. */
async function writeThing(
  name: string,
  parts: readonly PartMesh[],
  colours: Readonly<Record<string, Vec3>>,
): Promise<Uint8Array> {
  const document = new Document();
  document.getRoot().getAsset().generator = 'Yarvo demo cast';
  const buffer = document.createBuffer();
  const mesh = document.createMesh(name);
  for (const [material, colour] of Object.entries(colours)) {
    const own = parts.filter((part) => part.material === material);
    const positions = own.flatMap((part) => part.positions);
    const indices = own.flatMap((part, at) =>
      part.indices.map(
        (index) => index + own.slice(0, at).reduce((sum, before) => sum + before.positions.length / 3, 0),
      ),
    );
    mesh.addPrimitive(
      document
        .createPrimitive()
        .setMaterial(
          document
            .createMaterial(material)
            .setBaseColorFactor([...colour, 1])
            .setMetallicFactor(0),
        )
        .setAttribute(
          'POSITION',
          document.createAccessor().setType('VEC3').setArray(new Float32Array(positions)).setBuffer(buffer),
        )
        .setAttribute(
          'NORMAL',
          document
            .createAccessor()
            .setType('VEC3')
            .setArray(new Float32Array(own.flatMap((part) => part.normals)))
            .setBuffer(buffer),
        )
        .setIndices(document.createAccessor().setType('SCALAR').setArray(new Uint32Array(indices)).setBuffer(buffer)),
    );
  }
  document.createScene(name).addChild(document.createNode(name).setMesh(mesh));
  return createNodeIO().writeBinary(document);
}

const ring = (
  material: string,
  height: number,
  radii: readonly (readonly [number, number])[],
  heights: readonly number[],
): PartMesh =>
  tube({
    material,
    path: heights.map((y): Vec3 => [0, height + y, 0]),
    radii,
    leads: [{ bone: 'none', at: 0 }],
    blend: 0.1,
    sides: 14,
    rings: heights.length * 4,
  });

/** A lantern as the market hangs them: a prop, no skeleton. */
export const lantern = (): Promise<Uint8Array> =>
  writeThing(
    'Lantern',
    [
      ring(
        'brass',
        0,
        [
          [0.07, 0.07],
          [0.075, 0.075],
          [0.06, 0.06],
        ],
        [0, 0.02, 0.04],
      ),
      ring(
        'light',
        0.04,
        [
          [0.05, 0.05],
          [0.056, 0.056],
          [0.05, 0.05],
        ],
        [0, 0.08, 0.16],
      ),
      ring(
        'brass',
        0.2,
        [
          [0.075, 0.075],
          [0.05, 0.05],
          [0.012, 0.012],
        ],
        [0, 0.03, 0.07],
      ),
      ring(
        'brass',
        0.27,
        [
          [0.006, 0.006],
          [0.006, 0.006],
        ],
        [0, 0.08],
      ),
    ],
    { brass: [0.72, 0.53, 0.2], light: [1, 0.86, 0.45] },
  );

const boulder = (x: number, y: number, z: number, rx: number, ry: number, rz: number, material = 'stone'): PartMesh =>
  ellipsoid(material, [x, y, z], [rx, ry, rz], [{ bone: 'none', weight: 1 }], ([a, b, c]) => {
    const rough = 1 + 0.07 * Math.sin(a * 5 + y * 3) * Math.cos(c * 4 + x * 7) + 0.05 * Math.sin(b * 9 + z);
    return [a * rough, b * rough, c * rough];
  });

/** What the tide leaves: a figure of stones and weed, a mesh that never had a skeleton. */
export const tideGolem = (): Promise<Uint8Array> =>
  writeThing(
    'Tide golem',
    [
      boulder(0, 1.35, 0, 0.46, 0.42, 0.34),
      boulder(0, 0.95, 0, 0.34, 0.24, 0.28),
      boulder(0, 1.9, 0.05, 0.2, 0.2, 0.2),
      ...([-1, 1] as const).flatMap((s) => [
        boulder(s * 0.2, 0.6, 0, 0.17, 0.3, 0.18),
        boulder(s * 0.22, 0.2, 0.02, 0.19, 0.24, 0.2),
        boulder(s * 0.23, 0.06, 0.12, 0.17, 0.07, 0.24),
        boulder(s * 0.62, 1.5, 0, 0.26, 0.2, 0.2),
        boulder(s * 1.0, 1.46, 0, 0.26, 0.15, 0.16),
        boulder(s * 1.36, 1.44, 0, 0.2, 0.17, 0.18),
      ]),
      boulder(0, 1.72, -0.12, 0.4, 0.14, 0.24, 'weed'),
      boulder(0.3, 1.62, 0.08, 0.2, 0.1, 0.2, 'weed'),
      boulder(-0.14, 0.98, 0.18, 0.14, 0.2, 0.14, 'weed'),
    ],
    { stone: [0.42, 0.44, 0.43], weed: [0.2, 0.34, 0.2] },
  );
