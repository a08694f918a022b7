import { mkdtemp, rm, writeFile } from 'node:fs/promises';
import os from 'node:os';
import path from 'node:path';
import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import { DrillLineSchema, UndrilledSchema } from '@/contract/drill-line';
import { QUAY } from '@/core/definition/quay';
import { sampleHouse } from '@/core/house/house-motion';
import { HOUSE_SET, houseEntry } from '@/core/house/house-set';
import { encodeMotion } from '@/core/motion/motion-file';
import { proofSize } from '../../tests/helpers/proof-size';
import { drill } from './drill';

const demo = (name: string) => path.resolve(import.meta.dirname, '../../demo/files', name);
let folder: string;
beforeEach(async () => {
  folder = await mkdtemp(path.join(os.tmpdir(), 'yarvo-drill-'));
});
afterEach(() => rm(folder, { recursive: true, force: true }));

async function run(characters: readonly string[], motions?: string) {
  const lines: unknown[] = [];
  const code = await drill({ characters, motions, json: true, write: (text) => lines.push(JSON.parse(text)) });
  return { code, lines };
}

describe('yarvo drill', () => {
  it('plays the house set on a character of usual proportions without a flag', async () => {
    // Left out, all are played; a sample of them is given as files.
    const sample = ['idle', 'walk', 'jump', 'finger-range'];
    for (const id of proofSize(sample, [])) {
      const { make, settings, label } = houseEntry(id);
      const motion = sampleHouse(make(settings), QUAY);
      await writeFile(path.join(folder, `${id}.yarvomotion`), encodeMotion({ ...motion, name: label }));
    }
    const { code, lines } = await run([demo('lamplighter.glb')], proofSize<string | undefined>(folder, undefined));
    const parsed = lines.map((line) => DrillLineSchema.parse(line));
    expect(parsed).toHaveLength(proofSize(sample.length, HOUSE_SET.length));
    expect(parsed.flatMap(({ flags }) => flags.map(({ sentence }) => sentence))).toEqual([]);
    expect(code).toBe(0);
    const walk = parsed.find(({ motion }) => /walk/i.test(motion));
    expect(walk?.measures['knee.left']).toMatchObject({ unit: '°', limit: [-5, 165] });
    expect(walk?.measures['sink.left'].limit).toEqual([-4, null]);
  }, 120_000);

  it('stands the feet of unlike legs as they stand in the source, and keeps what the motion itself does wrong', async () => {
    const walk = houseEntry('walk');
    const clean = sampleHouse(walk.make(walk.settings), QUAY);
    const last = clean.frameCount - 1;
    // The whole figure rises by 12 % of a leg: a fault of the motion, on stilts as on legs.
    const hips = clean.hips.map((value, at) => (at % 3 === 1 ? value + (0.12 * Math.floor(at / 3)) / last : value));
    await writeFile(path.join(folder, 'a-walk.yarvomotion'), encodeMotion(clean));
    await writeFile(path.join(folder, 'b-rising.yarvomotion'), encodeMotion({ ...clean, hips }));
    const { code, lines } = await run([demo('stilt-walker.glb')], folder);
    const [stands, rises] = lines.map((line) => DrillLineSchema.parse(line));
    expect(code).toBe(1);
    expect(stands.flags.map(({ sentence }) => sentence)).toEqual([]);
    expect(stands.measures['slide.left'].max).toBeLessThan(0.25);
    const floating = rises.flags.filter(({ measure }) => measure.startsWith('sole.'));
    expect(floating.length).toBeGreaterThan(0);
    expect(floating.every(({ cause }) => cause === 'source')).toBe(true);
  }, 60_000);

  it('goes on after what it cannot read, and says so by the code', async () => {
    await writeFile(path.join(folder, 'broken.bvh'), 'HIERARCHY');
    const { code, lines } = await run([demo('lantern.glb'), demo('lamplighter.glb')], folder);
    expect(code).toBe(2);
    const refused = lines.map((line) => UndrilledSchema.parse(line));
    expect(refused.map(({ error }) => error.place).join(' ')).toMatch(/broken\.bvh.*lantern\.glb/);
  });
});
