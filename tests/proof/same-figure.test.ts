import { readFile } from 'node:fs/promises';
import path from 'node:path';
import type { Document, Node } from '@gltf-transform/core';
import { beforeAll, describe, expect, it } from 'vitest';
import { runFirstPass } from '@/pipeline/match';
import { QUAY } from '@/core/definition/quay';
import { compose, decompose, IDENTITY, multiply, type Mat4 } from '@/core/math/mat4';
import { angleOf, conjugate, multiply as times, type Quat } from '@/core/math/quat';
import { distance } from '@/core/math/vec3';
import type { Rig } from '@/core/rig/rig';
import { sampleClip } from '@/document/sample-clip';
import { readInfluences } from '@/document/skin-influences';
import { worldOf } from '@/document/fold-bones';
import { readSource } from '@/pipeline/read-files';

/** The lamplighter by our GLB writer, by another program's converter, and by our two text writers. */
const FILES = path.join(import.meta.dirname, '../../demo/files');
const OTHERS = ['same-figure/lamplighter-binary.fbx', 'same-figure/lamplighter.fbx', 'same-figure/lamplighter.dae'];
const DEGREES = 180 / Math.PI;

interface Read {
  readonly document: Document;
  readonly rig: Rig;
  /** World of each bone in metres, Y up, facing +Z, by name. */
  readonly worlds: ReadonlyMap<string, Mat4>;
  readonly toBody: Mat4;
}

async function read(file: string): Promise<Read> {
  const bytes = new Uint8Array(await readFile(path.join(FILES, file)));
  const { document, rig } = await readSource({ path: file, bytes }, []);
  const { scale, rotation } = runFirstPass(rig, QUAY).normalisation;
  const toBody = compose([0, 0, 0], rotation as Quat, [scale, scale, scale]);
  return {
    document,
    rig,
    toBody,
    worlds: new Map(rig.bones.map((bone) => [bone.name, multiply(toBody, bone.restWorld)])),
  };
}

/** Place in millimetres -> weights by bone name, for every vertex. */
function weightsByPlace({ document, toBody }: Read): Map<string, Map<string, number>> {
  const out = new Map<string, Map<string, number>>();
  for (const node of document.getRoot().listNodes()) {
    const [mesh, skin] = [node.getMesh(), node.getSkin()];
    if (!mesh || !skin) continue;
    const names = skin.listJoints().map((joint) => joint.getName());
    const inverse = skin.getInverseBindMatrices();
    for (const primitive of mesh.listPrimitives()) {
      const influences = readInfluences(primitive, names.length, 'test');
      const positions = primitive.getAttribute('POSITION');
      if (!influences || !positions) continue;
      const matrices = skin
        .listJoints()
        .map((joint, at) =>
          multiply(toBody, multiply(worldOf(joint), inverse?.getElement(at, [] as number[]) ?? IDENTITY)),
        );
      for (let vertex = 0; vertex < positions.getCount(); vertex++) {
        const [x, y, z] = positions.getElement(vertex, [] as number[]);
        const place = [0, 0, 0];
        const weights = new Map<string, number>();
        for (let slot = 0; slot < influences.perVertex; slot++) {
          const at = vertex * influences.perVertex + slot;
          if (influences.weights[at] <= 0) continue;
          const [joint, weight] = [influences.joints[at], influences.weights[at]];
          weights.set(names[joint], (weights.get(names[joint]) ?? 0) + weight);
          for (let row = 0; row < 3; row++)
            place[row] +=
              weight *
              (matrices[joint][row] * x +
                matrices[joint][4 + row] * y +
                matrices[joint][8 + row] * z +
                matrices[joint][12 + row]);
        }
        out.set(place.map((value) => Math.round(value * 2000)).join(' '), weights);
      }
    }
  }
  return out;
}

let base: Read;
beforeAll(async () => {
  base = await read('lamplighter.glb');
});

describe.each(OTHERS)('%s is the same rig as the GLB', (file) => {
  it('in names, tree and rest worlds: 0.1 mm and 0.01 degrees', async () => {
    const other = await read(file);
    expect([...other.worlds.keys()].sort()).toEqual([...base.worlds.keys()].sort());
    for (const bone of other.rig.bones) {
      const twin = base.rig.bones.find((candidate) => candidate.name === bone.name);
      expect(bone.parent < 0 ? null : other.rig.bones[bone.parent].name).toBe(
        twin && twin.parent >= 0 ? base.rig.bones[twin.parent].name : null,
      );
      const [a, b] = [decompose(base.worlds.get(bone.name) as Mat4), decompose(other.worlds.get(bone.name) as Mat4)];
      expect(distance(a.translation, b.translation), bone.name).toBeLessThan(1e-4);
      expect(angleOf(times(a.rotation, conjugate(b.rotation))) * DEGREES, bone.name).toBeLessThan(0.01);
      if (bone.bindWorld)
        expect(
          distance(decompose(multiply(other.toBody, bone.bindWorld)).translation, b.translation),
          `bind of ${bone.name}`,
        ).toBeLessThan(1e-4);
    }
  });

  it('in weights: 1e-4 at every vertex', async () => {
    const [ours, theirs] = [weightsByPlace(base), weightsByPlace(await read(file))];
    let [compared, worst] = [0, 0];
    for (const [place, weights] of theirs) {
      const twin = ours.get(place);
      if (!twin) continue;
      compared++;
      for (const name of new Set([...weights.keys(), ...twin.keys()]))
        worst = Math.max(worst, Math.abs((weights.get(name) ?? 0) - (twin.get(name) ?? 0)));
    }
    // Places are compared on a half-millimetre raster; some lie on its edges.
    expect(compared).toBeGreaterThan(ours.size * 0.9);
    expect(worst).toBeLessThan(1e-4);
  });

  it('in clips: 0.1 degrees at any time', async () => {
    const other = await read(file);
    expect(other.rig.clips.map((clip) => clip.name)).toEqual(base.rig.clips.map((clip) => clip.name));
    // The converter writes key times a thousand times too late under a right range; that is said and mended.
    expect(other.rig.remarks.some((remark) => remark.includes('1000 times too late'))).toBe(file.includes('binary'));
    expect(other.rig.clips[0].durationSeconds).toBeCloseTo(base.rig.clips[0].durationSeconds, 3);
    const worldsAt = ({ document, toBody }: Read, seconds: number): Map<string, Mat4> => {
      const changes = sampleClip(document.getRoot().listAnimations()[0], seconds);
      const worldAt = (node: Node): Mat4 => {
        const change = changes.get(node);
        const local = compose(
          change?.translation ?? node.getTranslation(),
          change?.rotation ?? node.getRotation(),
          change?.scale ?? node.getScale(),
        );
        const parent = node.getParentNode();
        return multiply(parent ? worldAt(parent) : toBody, local);
      };
      return new Map(
        document
          .getRoot()
          .listNodes()
          .filter((node) => !node.getMesh())
          .map((node) => [node.getName(), worldAt(node)]),
      );
    };
    for (const seconds of [0, 0.4, 0.5, 1.1, 1.65, 2]) {
      const [ours, theirs] = [worldsAt(base, seconds), worldsAt(other, seconds)];
      for (const { name } of base.rig.bones) {
        const [a, b] = [decompose(ours.get(name) as Mat4), decompose(theirs.get(name) as Mat4)];
        expect(angleOf(times(a.rotation, conjugate(b.rotation))) * DEGREES, `${name} at ${seconds} s`).toBeLessThan(
          0.1,
        );
        expect(distance(a.translation, b.translation), `${name} at ${seconds} s`).toBeLessThan(1e-3);
      }
    }
  });
});
