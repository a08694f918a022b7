import { existsSync } from 'node:fs';
import { mkdtemp, readdir, readFile, rm, writeFile } from 'node:fs/promises';
import os from 'node:os';
import path from 'node:path';
import { AnimationMixer, Object3D, PropertyBinding, Vector3 } from 'three';
import { BVHLoader } from 'three/addons/loaders/BVHLoader.js';
import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import { CarryLineSchema, UncarriedSchema, type CarryLine } from '@/contract/carry-line';
import { objectsOf, placeOf } from '../../tests/helpers/carry-maker';
import { LIVELY, PLAIN_FIGURE, writeFigureGlb } from '../../tests/helpers/moving-figure';
import { loadWithThree, playAt } from '../../tests/helpers/three-oracle';
import { carry, type CarryCommand } from './carry';

const demo = (name: string) => path.resolve(import.meta.dirname, '../../demo/files', name);
let out: string;
beforeEach(async () => {
  out = await mkdtemp(path.join(os.tmpdir(), 'yarvo-carry-'));
});
afterEach(() => rm(out, { recursive: true, force: true }));

async function run(motion: string, characters: readonly string[], options: Partial<CarryCommand> = {}) {
  const lines: unknown[] = [];
  const code = await carry({
    motion,
    characters,
    json: true,
    out,
    reference: 'rest',
    root: 'none',
    write: (text) => lines.push(JSON.parse(text)),
    ...options,
  });
  return { code, lines };
}
const refusalOf = async (...given: Parameters<typeof run>) => {
  const { code, lines } = await run(...given);
  expect(code).toBe(2);
  expect(await readdir(out)).toEqual([]);
  return UncarriedSchema.parse(lines[0]);
};
async function written(name: string, content: string | Uint8Array): Promise<string> {
  const file = path.join(os.tmpdir(), `yarvo-carry-${process.pid}-${name}`);
  await writeFile(file, content);
  return file;
}

describe('yarvo carry', () => {
  it('says one line for each take and character, and writes what it says', async () => {
    const { code, lines } = await run(demo('stall-keeper.fbx'), [
      demo('lamplighter.glb'),
      demo('clockwork-deckhand.glb'),
    ]);
    expect(code).toBe(0);
    const parsed = lines.map((line) => CarryLineSchema.parse(line));
    expect(parsed.map(({ clip, character, frames, rate }) => [clip, path.basename(character), frames, rate])).toEqual([
      ['beckon', 'lamplighter.glb', 91, 30],
      ['beckon', 'clockwork-deckhand.glb', 91, 30],
      ['weigh', 'lamplighter.glb', 73, 30],
      ['weigh', 'clockwork-deckhand.glb', 73, 30],
    ]);
    expect(new Set(parsed.map(({ out: { glb } }) => glb)).size).toBe(4);
    expect(parsed.every(({ out: { glb, bvh } }) => existsSync(glb) && existsSync(bvh))).toBe(true);
    const [line] = parsed;
    expect(line.source?.posture.class).toBe('T');
    expect(line.source?.assignments.leftLowerArm.bone).toBe('LeftElbow');
    const { scene, animations } = await loadWithThree(new Uint8Array(await readFile(line.out.glb)));
    expect(animations).toHaveLength(1);
    expect(animations[0].duration).toBeCloseTo(3, 5);
    // The character keeps its own names and stands in metres.
    expect(scene.getObjectByName(line.assignments.head.bone)).toBeDefined();
  });

  it('writes GLB and BVH that two loaders play alike, with and without a root that travels', async () => {
    for (const root of ['none', 'horizontal,turn']) {
      const { lines } = await run(demo('lantern-round.bvh'), [demo('net-mender.glb')], { reference: 'frame:0', root });
      const line = CarryLineSchema.parse(lines[0]);
      expect(line.frames).toBe(157);
      const loaded = await loadWithThree(new Uint8Array(await readFile(line.out.glb)));
      const { skeleton, clip } = new BVHLoader().parse(await readFile(line.out.bvh, 'utf8'));
      const scene = new Object3D().add(skeleton.bones[0]);
      const mixer = new AnimationMixer(skeleton.bones[0]);
      mixer.clipAction(clip).play();
      const inBvh = new Map(skeleton.bones.map((bone) => [bone.name, bone]));
      for (const t of [0, 1.5, 4]) {
        playAt(loaded, 0, t);
        mixer.setTime(t);
        scene.updateMatrixWorld(true);
        const objects = objectsOf(loaded);
        for (const { bone } of Object.values(line.assignments)) {
          const [a, b] = [objects.get(PropertyBinding.sanitizeNodeName(bone)), inBvh.get(bone.replace(/\s+/g, '_'))];
          if (!a || !b) throw new Error(`${bone} is missing`);
          expect(placeOf(a).distanceTo(new Vector3().setFromMatrixPosition(b.matrixWorld)), bone).toBeLessThan(1e-4);
        }
      }
    }
  });

  it('takes the rate that it is given, another definition, and the bind pose', async () => {
    const { lines } = await run(demo('boat-leap.glb'), [demo('harbour-diver.glb')], {
      rate: '12',
      definition: 'quay-a45',
    });
    const line = CarryLineSchema.parse(lines[0]);
    expect([line.frames, line.rate, line.posture.class]).toEqual([32, 12, 'A']);
    const skinned = await written('skinned.glb', await writeFigureGlb({ ...PLAIN_FIGURE, axes: 3 }, LIVELY));
    const bound = await run(skinned, [demo('lamplighter.glb')], { reference: 'bind' });
    expect(bound.code).toBe(0);
  });

  it('refuses what moves no figure, and names the file', async () => {
    const mule = await refusalOf(demo('market-mule.glb'), [demo('lamplighter.glb')]);
    expect(mule.error.code).toBe('no-figure');
    expect(mule.error.place).toContain('market-mule.glb');
    expect((await refusalOf(demo('lantern.glb'), [demo('lamplighter.glb')])).error.code).toBe('no-clip');
    expect((await refusalOf(demo('tide-bell.bvh'), [demo('market-mule.glb')])).character).toContain('market-mule.glb');
  });

  it('refuses clips with gaps, without length and with what is no number, by file, clip and frame', async () => {
    const text = await readFile(demo('quay-walk.bvh'), 'utf8');
    const cut = await written('gap.bvh', text.trimEnd().split('\n').slice(0, -3).join('\n'));
    expect((await refusalOf(cut, [demo('lamplighter.glb')])).error).toMatchObject({ code: 'truncated' });
    const nan = await written('nan.bvh', text.replace(/(Frame Time:.*\n\S+ )\S+/, '$1NaN'));
    const refused = (await refusalOf(nan, [demo('lamplighter.glb')])).error;
    expect(refused.message).toContain('"NaN" is not a number');
    expect(refused.place).toContain('line');
    const still = await written(
      'still.bvh',
      text.replace('Frames: 73', 'Frames: 1').split('\n').slice(0, -73).join('\n'),
    );
    expect((await refusalOf(still, [demo('lamplighter.glb')])).error.code).toMatch(/empty-clip|no-clip/);
    const late = await refusalOf(demo('tide-bell.bvh'), [demo('lamplighter.glb')], { reference: 'frame:500' });
    expect(late.error).toMatchObject({ code: 'bad-pose', remedy: 'Give a frame from 0 to 120.' });
    expect(late.error.place).toContain('clip "motion"');
    const other = await refusalOf(demo('stall-keeper.fbx'), [demo('lamplighter.glb')], { clip: 'dance' });
    expect(other.error.remedy).toContain('"beckon", "weigh"');
  });

  it('refuses options that mean nothing before anything is read', async () => {
    const wrong = (options: Partial<CarryCommand>) => run(demo('tide-bell.bvh'), [demo('lamplighter.glb')], options);
    await expect(wrong({ rate: '0' })).rejects.toThrow(/--rate/);
    await expect(wrong({ root: 'sideways' })).rejects.toThrow(/--root/);
    await expect(wrong({ reference: 'frame:x' })).rejects.toThrow(/--reference/);
    expect(await readdir(out)).toEqual([]);
  });

  it('puts a figure on the floor whose motion goes on above a floor that its rest does not stand on', async () => {
    const { lines } = await run(demo('quay-walk.bvh'), [demo('eel-seller.glb')]);
    const line = lines[0] as CarryLine;
    const loaded = await loadWithThree(new Uint8Array(await readFile(line.out.glb)));
    const ankles = Object.entries(line.assignments).filter(([role]) => role.endsWith('Foot'));
    const rest = Math.min(
      ...ankles.map(([, { bone }]) => placeOf(objectsOf(loaded).get(PropertyBinding.sanitizeNodeName(bone))).y),
    );
    const lowest: number[] = [];
    for (let frame = 0; frame < 72; frame += 3) {
      playAt(loaded, 0, frame / 30);
      lowest.push(
        Math.min(
          ...ankles.map(([, { bone }]) => placeOf(objectsOf(loaded).get(PropertyBinding.sanitizeNodeName(bone))).y),
        ),
      );
    }
    expect(Math.abs(Math.min(...lowest) - rest)).toBeLessThan(0.06);
  });
});
