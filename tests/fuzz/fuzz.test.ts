import { beforeAll, describe, expect, it } from 'vitest';
import { damage, randomFrom } from './damage';
import { judge } from './judge';
import { makeSeeds, type Seed } from './seeds';

const CASES = 200;
let seeds: Readonly<Record<string, Seed>>;
beforeAll(async () => {
  seeds = await makeSeeds();
});

describe.each(['glb', 'gltf', 'vrm', 'fbx-text', 'fbx-binary', 'collada', 'bvh', 'zip'])('%s', (format) => {
  it('is read whole', async () => {
    expect(await judge(seeds[format].path, seeds[format].bytes)).toEqual({ code: 'read', complaint: null });
  });

  it(`gives a sound rig or a specific error for ${CASES} damaged copies`, async () => {
    const complaints: string[] = [];
    // Other cases than those of the command, which start at 0.
    for (let number = 0; number < CASES; number++) {
      const { complaint } = await judge(seeds[format].path, damage(seeds[format], randomFrom(1_000_000 + number)));
      if (complaint) complaints.push(`case ${1_000_000 + number}: ${complaint}`);
    }
    expect(complaints).toEqual([]);
  });
});
