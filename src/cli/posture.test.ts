import { mkdtemp, readFile, readdir, rm, writeFile } from 'node:fs/promises';
import os from 'node:os';
import path from 'node:path';
import { PropertyBinding, Vector3 } from 'three';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { PostureLineSchema, UnposedSchema, type PostureLine } from '@/contract/posture-line';
import { QUAY, QUAY_A45 } from '@/core/definition/quay';
import { loadWithThree, skinnedVertices, type Loaded } from '../../tests/helpers/three-oracle';
import { posture, type PostureCommand } from './posture';

const demo = (name: string) => path.resolve(import.meta.dirname, '../../demo/files', name);
let folder: string;
beforeAll(async () => {
  folder = await mkdtemp(path.join(os.tmpdir(), 'yarvo-posture-'));
});
afterAll(() => rm(folder, { recursive: true, force: true }));

async function run(
  files: readonly string[],
  options: Partial<PostureCommand> = {},
): Promise<{ code: number; lines: unknown[] }> {
  const lines: unknown[] = [];
  const write = (text: string) => lines.push(JSON.parse(text));
  return { code: await posture({ files, json: true, align: false, from: 'rest', write, ...options }), lines };
}
const lineOf = async (file: string, options: Partial<PostureCommand> = {}): Promise<PostureLine> => {
  const { code, lines } = await run([demo(file)], options);
  expect(code).toBe(0);
  return PostureLineSchema.parse(lines[0]);
};

/** Direction from one role's bone to another's in a written file, as three reads it: that file is upright and faces +Z. */
function directionIn({ scene }: Loaded, line: PostureLine, from: string, to: string): Vector3 {
  const place = (role: string) => {
    const object = scene.getObjectByName(PropertyBinding.sanitizeNodeName(line.assignments[role].bone));
    if (!object) throw new Error(`three finds no ${line.assignments[role].bone}`);
    return object.getWorldPosition(new Vector3());
  };
  return place(to).sub(place(from)).normalize();
}
const degreesBetween = (a: Vector3, b: readonly number[]): number => (a.angleTo(new Vector3(...b)) * 180) / Math.PI;

describe('yarvo posture', () => {
  it.each([
    ['quay', QUAY, 'T'],
    ['quay-a45', QUAY_A45, 'A'],
  ] as const)(
    'aligns to %s: another loader finds every arm and leg where the line promises it',
    async (id, definition, kind) => {
      for (const file of ['eel-seller.glb', 'clockwork-deckhand.glb', 'ferry-pilot.fbx', 'bell-ringer.dae']) {
        const line = await lineOf(file, { align: true, definition: id, out: folder });
        expect(`${file} ${line.after.class}`).toBe(`${file} ${kind}`);
        const loaded = await loadWithThree(new Uint8Array(await readFile(line.out as string)));
        for (const [from, to] of [
          ['leftUpperArm', 'leftLowerArm'],
          ['rightLowerArm', 'rightHand'],
          ['leftUpperLeg', 'leftLowerLeg'],
          ['rightLowerLeg', 'rightFoot'],
        ]) {
          const target = definition.roles.find((role) => role.id === from)?.direction ?? [0, 0, 0];
          const off = degreesBetween(directionIn(loaded, line, from, to), target);
          expect(Math.abs(off - line.after.deviationsDeg[from]), `${file} ${from}`).toBeLessThan(0.01);
          expect(off, `${file} ${from}`).toBeLessThan(0.05);
        }
      }
    },
  );

  it('says heights and soles as the written mesh has them', async () => {
    for (const file of ['eel-seller.glb', 'otter-stevedore.glb']) {
      const line = await lineOf(file, { align: true, out: folder });
      const heights = skinnedVertices(await loadWithThree(new Uint8Array(await readFile(line.out as string)))).map(
        ({ y }) => y,
      );
      const [low, high] = [Math.min(...heights), Math.max(...heights)];
      expect(high - low).toBeCloseTo(line.after.heightM, 3);
      expect(Math.min(line.after.soles.leftCm ?? 0, line.after.soles.rightCm ?? 0)).toBeCloseTo(low * 100, 1);
      // Standing in another pose, the soles stay where they were.
      expect(line.after.soles.leftCm).toBeCloseTo(line.before.soles.leftCm ?? 0, 1);
    }
  });

  it('measured again, a written file is what was promised, to a hundredth of a degree', async () => {
    const first = await lineOf('eel-seller.glb', { align: true, out: folder });
    const { lines } = await run([first.out as string]);
    const again = PostureLineSchema.parse(lines[0]);
    expect(again.before.class).toBe(first.after.class);
    for (const [role, angle] of Object.entries(first.after.deviationsDeg))
      expect(again.before.deviationsDeg[role], role).toBeCloseTo(angle, 2);
    expect(again.assignments.leftHand.bone).toBe(first.assignments.leftHand.bone);
  });

  it('takes the pose from a frame of a clip, and feet stay flat when that is aligned', async () => {
    const rest = await lineOf('eel-seller.glb');
    const taken = await lineOf('eel-seller.glb', { from: 'clip:Call across the square:12' });
    expect(taken.after.deviationsDeg).not.toEqual(rest.after.deviationsDeg);
    expect(taken.before).toEqual(rest.before);
    const aligned = await lineOf('eel-seller.glb', { from: 'clip:Call across the square:12', align: true });
    expect(aligned.after.class).toBe('T');
    expect(Math.abs((aligned.after.soles.leftCm ?? 9) - (aligned.after.soles.rightCm ?? -9))).toBeLessThan(0.1);
  });

  it('names what a file does not hold, changes nothing and goes on', async () => {
    const out = path.join(folder, 'refused');
    for (const [from, said] of [
      ['clip:Call across the square:900', /ends before frame 900/],
      ['clip:Sing:0', /no clip "Sing"/],
      ['sideways', /"sideways" is no pose/],
    ] as const) {
      const { code, lines } = await run([demo('eel-seller.glb')], { from, out });
      expect(code).toBe(2);
      const { error } = UnposedSchema.parse(lines[0]);
      expect(error.message).toMatch(said);
      expect(error.remedy).not.toBe('');
    }
    const broken = path.join(folder, 'broken.glb');
    await writeFile(broken, 'tide');
    const { code, lines } = await run([broken, demo('lamplighter.glb')], { out });
    expect(code).toBe(2);
    expect(UnposedSchema.parse(lines[0]).error.code).not.toBe('');
    expect(PostureLineSchema.parse(lines[1]).after.class).toBe('T');
    expect(await readdir(out)).toEqual(['lamplighter.glb']);
  });

  it('leaves what is no figure as it stands, and keeps two files of one name apart', async () => {
    const mule = await lineOf('market-mule.glb', { align: true });
    expect(mule.after).toEqual(mule.before);
    const twin = path.join(folder, 'same');
    const { lines } = await run([demo('lamplighter.glb'), demo('lamplighter.glb')], { out: twin });
    expect(lines.map((line) => path.basename(PostureLineSchema.parse(line).out ?? ''))).toEqual([
      'lamplighter.glb',
      'lamplighter-2.glb',
    ]);
  });
});
