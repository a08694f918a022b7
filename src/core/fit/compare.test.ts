import { beforeAll, describe, expect, it } from 'vitest';
import { readGlb } from '@/pipeline/read-files';
import { CAST } from '../../../demo/cast/cast';
import { runFirstPass } from '@/pipeline/match';
import { QUAY } from '../definition/quay';
import { compareFits, type ComparedFit } from './compare';
import { initialFit } from './fit';

let lamplighter: ComparedFit;
let eelSeller: ComparedFit;
const fitOf = async (name: string): Promise<ComparedFit> => {
  const { rig } = await readGlb(await CAST[name].make(), name);
  const { match } = runFirstPass(rig, QUAY);
  return { rig, match, state: initialFit(match, QUAY) };
};
beforeAll(async () => {
  [lamplighter, eelSeller] = await Promise.all([fitOf('lamplighter.glb'), fitOf('eel-seller.glb')]);
});

describe('comparing fits', () => {
  it('finds a fit the same as itself, whatever prefix its names have', () => {
    const prefixed: ComparedFit = {
      ...lamplighter,
      rig: { ...lamplighter.rig, bones: lamplighter.rig.bones.map((bone) => ({ ...bone, name: `pier:${bone.name}` })) },
      match: { ...lamplighter.match, prefixLengths: lamplighter.match.prefixLengths.map((length) => length + 5) },
    };
    for (const other of [lamplighter, prefixed])
      expect(new Set(compareFits(QUAY, lamplighter, other).flatMap(({ kinds }) => kinds))).toEqual(new Set(['same']));
  });

  it('puts vacant roles first, tells here from there, and mirrors when turned round', () => {
    const { head: _head, ...assignments } = lamplighter.state.assignments;
    const without: ComparedFit = { ...lamplighter, state: { ...lamplighter.state, assignments } };
    const [first] = compareFits(QUAY, without, lamplighter);
    expect(first).toMatchObject({ role: 'head', here: null, kinds: ['vacant here'] });
    expect(compareFits(QUAY, lamplighter, without)[0]).toMatchObject({
      role: 'head',
      there: null,
      kinds: ['vacant there'],
    });
  });

  it('sees runs of other lengths and roles that hang elsewhere', () => {
    const forth = new Map(compareFits(QUAY, lamplighter, eelSeller).map((row) => [row.role, row]));
    const back = new Map(compareFits(QUAY, eelSeller, lamplighter).map((row) => [row.role, row]));
    for (const [role, { kinds, here, there }] of forth) {
      const other = back.get(role)!;
      expect([other.here, other.there]).toEqual([there, here]);
      expect(other.kinds.includes('shorter run')).toBe(kinds.includes('longer run'));
      expect(other.kinds.includes('other parent')).toBe(kinds.includes('other parent'));
    }
    const hand = lamplighter.state.assignments.leftHand.boneIndex;
    const rehung: ComparedFit = {
      ...lamplighter,
      rig: {
        ...lamplighter.rig,
        bones: lamplighter.rig.bones.map((bone) =>
          bone.index === hand ? { ...bone, parent: lamplighter.state.assignments.head.boneIndex } : bone,
        ),
      },
    };
    expect(compareFits(QUAY, rehung, lamplighter)[0]).toMatchObject({ role: 'leftHand', kinds: ['other parent'] });
  });
});
