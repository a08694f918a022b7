import { readFileSync } from 'node:fs';
import path from 'node:path';
import { strToU8, zipSync } from 'fflate';
import { IDENTITY } from '@/core/math/quat';
import { readGlbContainer } from '@/formats/gltf/glb-container';
import { tube } from '../../demo/figure/mesh';
import { writeFigure, type Figure } from '../../demo/figure/write-figure';
import { METRES_Y_UP } from '../../demo/formats/gather';
import { writeBvh } from '../../demo/formats/write-bvh';
import { writeCollada } from '../../demo/formats/write-collada';
import { writeFbx } from '../../demo/formats/write-fbx';
import { writeVrm } from '../../demo/formats/write-vrm';

/** A crane of three bones: small, so that thousands of damaged copies are read in seconds. */
function crane(): Figure {
  const joint = (name: string, parent: string | null, y: number, truth: string) => ({
    name,
    parent,
    position: [0, y, 0] as const,
    truth,
    rotation: IDENTITY,
  });
  return {
    name: 'Crane',
    joints: [joint('foot', null, 0, 'hips'), joint('mast', 'foot', 1, 'spine'), joint('hook', 'mast', 2, 'head')],
    materials: { iron: { colour: [0.3, 0.3, 0.32] } },
    parts: [
      tube({
        material: 'iron',
        path: [
          [0, 0, 0],
          [0, 1, 0],
          [0, 2, 0],
        ],
        radii: [
          [0.1, 0.1],
          [0.1, 0.1],
          [0.05, 0.05],
        ],
        leads: [
          { bone: 'foot', at: 0 },
          { bone: 'mast', at: 0.4 },
          { bone: 'hook', at: 0.8 },
        ],
        blend: 0.2,
        sides: 5,
        rings: 4,
      }),
    ],
    clips: [{ name: 'Lift', seconds: 0.2, swings: [{ joint: 'mast', axis: [0, 0, 1], degrees: 10 }] }],
  };
}

export interface Seed {
  readonly path: string;
  readonly bytes: Uint8Array;
  readonly isText: boolean;
}

/** A sound small file of each format. */
export async function makeSeeds(): Promise<Readonly<Record<string, Seed>>> {
  const figure = crane();
  const glb = await writeFigure(figure);
  const { json, binary } = readGlbContainer(glb, 'crane.glb');
  const data = `data:application/octet-stream;base64,${Buffer.from(binary ?? []).toString('base64')}`;
  const gltf = strToU8(JSON.stringify({ ...json, buffers: [{ ...(json.buffers as object[])[0], uri: data }] }));
  const fbx = strToU8(writeFbx(figure, { ...METRES_Y_UP, usesPreRotation: true }));
  const bvh = strToU8(
    writeBvh(figure.joints, {
      frames: 4,
      framesPerSecond: 30,
      hips: () => [0, 1, 0],
      turns: { mast: (phase) => [phase * 20, 0, 0] },
    }),
  );
  return {
    glb: { path: 'crane.glb', bytes: glb, isText: false },
    gltf: { path: 'crane.gltf', bytes: gltf, isText: true },
    vrm: { path: 'crane.vrm', bytes: await writeVrm(figure), isText: false },
    'fbx-text': { path: 'crane.fbx', bytes: fbx, isText: true },
    'fbx-binary': {
      path: 'crane.fbx',
      bytes: new Uint8Array(readFileSync(path.join(import.meta.dirname, 'crane-binary.fbx'))),
      isText: false,
    },
    collada: { path: 'crane.dae', bytes: strToU8(writeCollada(figure, METRES_Y_UP)), isText: true },
    bvh: { path: 'crane.bvh', bytes: bvh, isText: true },
    zip: {
      path: 'crane.zip',
      bytes: zipSync({ 'crane/crane.fbx': fbx, 'crane/textures/iron.png': new Uint8Array(64) }),
      isText: false,
    },
  };
}
