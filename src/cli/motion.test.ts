import { mkdtemp, readdir, readFile, rm, writeFile } from 'node:fs/promises';
import os from 'node:os';
import path from 'node:path';
import { Vector3 } from 'three';
import { BVHLoader } from 'three/addons/loaders/BVHLoader.js';
import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import { CarryLineSchema, UncarriedSchema } from '@/contract/carry-line';
import { HouseLineSchema, HouseListingSchema, UnmadeSchema } from '@/contract/house-line';
import { HOUSE_SET } from '@/core/house/house-set';
import { SOLE } from '@/core/house/house-body';
import { decodeMotion, encodeMotion } from '@/core/motion/motion-file';
import { loadWithThree, playAt } from '../../tests/helpers/three-oracle';
import { carry } from './carry';
import { listMotions, makeMotion } from './motion';

let out: string;
beforeEach(async () => {
  out = await mkdtemp(path.join(os.tmpdir(), 'yarvo-motion-'));
});
afterEach(() => rm(out, { recursive: true, force: true }));

const demo = (name: string) => path.resolve(import.meta.dirname, '../../demo/files', name);

async function make(name: string, set: readonly string[] = [], rate?: string) {
  const lines: unknown[] = [];
  const code = await makeMotion({
    name,
    set,
    out,
    rate,
    json: true,
    write: (text) => lines.push(JSON.parse(text)),
  });
  return { code, line: lines[0] };
}

async function carryHouse(motion: string, set: readonly string[] = [], rate?: string) {
  const lines: unknown[] = [];
  const code = await carry({
    motion,
    characters: [demo('stilt-walker.glb')],
    json: true,
    out,
    reference: 'rest',
    root: 'none',
    set,
    rate,
    write: (text) => lines.push(JSON.parse(text)),
  });
  return { code, lines };
}

describe('yarvo motion', () => {
  it('lists the whole house set', () => {
    const lines: unknown[] = [];
    expect(listMotions({ json: true, write: (text) => lines.push(JSON.parse(text)) })).toBe(0);
    const listed = lines.map((line) => HouseListingSchema.parse(line));
    expect(listed.map(({ name }) => name)).toEqual(HOUSE_SET.map(({ id }) => id));
    expect(listed.find(({ name }) => name === 'walk')?.settings?.speed).toBe(1.3);
  });

  it('makes a walk that an independent loader sees walking: as fast as asked, on feet that stand still', async () => {
    const { code, line } = await make('walk', ['speed=1.6', 'cycles=1'], '30');
    expect(code).toBe(0);
    const made = HouseLineSchema.parse(line);
    expect(made.rate).toBe(30);
    const motion = decodeMotion(new Uint8Array(await readFile(made.out.motion)));
    expect(motion.frameCount).toBe(made.frames);
    const loaded = await loadWithThree(new Uint8Array(await readFile(made.out.glb)));
    const placeAt = (name: string, seconds: number): Vector3 => {
      playAt(loaded, 0, seconds);
      return loaded.scene.getObjectByName(name)?.getWorldPosition(new Vector3()) ?? new Vector3(NaN);
    };
    const last = (made.frames - 1) / 30;
    const travelled = placeAt('hips', last).z - placeAt('hips', 0).z;
    expect(travelled / last).toBeCloseTo(1.6, 1);
    const stand = made.contacts.find(({ part, from, to }) => part === 'leftFoot' && to - from > 8);
    // Between the roll over the heel and the roll over the toes the ankle stands still, above the sole.
    const middle = ((stand?.from ?? 0) * 0.75 + (stand?.to ?? 0) * 0.25) / 30;
    expect(placeAt('leftFoot', middle).distanceTo(placeAt('leftFoot', middle + 1 / 30))).toBeLessThan(2e-3);
    expect(placeAt('leftFoot', middle).y).toBeCloseTo(SOLE.ankle, 2);
    const { skeleton, clip } = new BVHLoader().parse(await readFile(made.out.bvh, 'utf8'));
    expect(skeleton.bones[0].name).toBe('hips');
    expect(clip.duration).toBeCloseTo(last, 2);
  });

  it.each([
    ['walk', ['stride=0'], /stride cannot be 0/, /from 0\.1 to 5 m/],
    ['walk', ['speed'], /no setting "speed"/, /name=value/],
    ['crouch', ['speed=1'], /Crouch takes no settings/, /walk, run/],
    ['swim', [], /no motion "swim"/, /arm-range, leg-range/],
  ])('%s %j is refused with what helps, and nothing is written', async (name, set, message, remedy) => {
    const { code, line } = await make(name, set);
    expect(code).toBe(2);
    const { error } = UnmadeSchema.parse(line);
    expect(error.message).toMatch(message);
    expect(error.remedy).toMatch(remedy);
    expect(await readdir(out)).toEqual([]);
  });

  it('says what a walk could not do', async () => {
    const { line } = await make('walk', ['stride=3', 'cycles=1'], '10');
    expect(HouseLineSchema.parse(line).remarks[0]).toMatch(/held to/);
  });
});

describe('yarvo carry', () => {
  it('takes a motion of the house set with its settings, and the file that was made of it, alike', async () => {
    const { code, lines } = await carryHouse('house:walk', ['cycles=1', 'speed=1']);
    expect(code).toBe(0);
    const carried = CarryLineSchema.parse(lines[0]);
    expect(carried.source?.assignments.leftLowerArm.bone).toBe('leftLowerArm');
    expect(carried.source?.posture.class).toBe('T');
    const made = HouseLineSchema.parse((await make('walk', ['cycles=1', 'speed=1'])).line);
    const again = CarryLineSchema.parse((await carryHouse(made.out.motion)).lines[0]);
    expect(again.frames).toBe(carried.frames);
    expect(again.source).toBeNull();
    expect(await readFile(again.out.bvh, 'utf8')).toBe(await readFile(carried.out.bvh, 'utf8'));
  });

  it('samples a motion file at the rate that is asked for', async () => {
    const made = HouseLineSchema.parse((await make('walk', ['cycles=1'])).line);
    const carried = CarryLineSchema.parse((await carryHouse(made.out.motion, [], '30')).lines[0]);
    expect(carried.rate).toBe(30);
    expect(carried.frames).toBe(Math.floor((made.frames - 1) / 2) + 1);
  });

  it('refuses a motion file that is told against another definition', async () => {
    const made = HouseLineSchema.parse((await make('idle')).line);
    const motion = decodeMotion(new Uint8Array(await readFile(made.out.motion)));
    const file = path.join(out, 'other.yarvomotion');
    await writeFile(file, encodeMotion({ ...motion, definition: { id: 'quay-a45', version: 2 } }));
    const { error } = UncarriedSchema.parse((await carryHouse(file)).lines[0]);
    expect(error).toMatchObject({ code: 'other-definition' });
    expect(error.message).toMatch(/told against quay-a45, version 2/);
  });

  it('says which motion there is none of', async () => {
    const { code, lines } = await carryHouse('house:swim');
    expect(code).toBe(2);
    expect(UncarriedSchema.parse(lines[0]).error.message).toMatch(/no motion "swim"/);
  });
});
