import { beforeAll, describe, expect, it } from 'vitest';
import { checkReading } from '@/pipeline/check';
import { readGlb, type CanonicalReading } from '@/pipeline/read-files';
import { lamplighter } from '../../../../demo/cast/lamplighter';
import { writeFigure } from '../../../../demo/figure/write-figure';
import { QUAY } from '../../definition/quay';
import { writtenSkeleton } from '../../plan/written-skeleton';
import { EngineProfileSchema, type ShippedSkeleton } from '../../profile/profile';
import { TIDEWATER } from '../../profile/shipped';

type Bones = ShippedSkeleton['bones'];
let reading: CanonicalReading;
let own: Bones;
beforeAll(async () => {
  reading = await readGlb(await writeFigure(lamplighter()), 'test');
  const written = writtenSkeleton(checkReading(reading, { definition: QUAY, profile: TIDEWATER }).plan) ?? [];
  own = written.map((bone) => ({ ...bone, role: null }));
});

const against = (bones: Bones) => {
  const profile = EngineProfileSchema.parse({ ...TIDEWATER, skeleton: { label: 'Townsfolk', bones } });
  const { findings } = checkReading(reading, { definition: QUAY, profile });
  return new Map(
    findings
      .filter(({ check }) => check === 'shipped-skeleton')
      .map((finding) => [finding.key.split(/[/ ]/)[1], finding]),
  );
};
const changed = (name: string, change: Partial<Bones[number]>): Bones =>
  own.map((bone) => (bone.name === name ? { ...bone, ...change } : bone));

describe('a skeleton that the studio ships', () => {
  it('is the same as itself, helpers and all', () => {
    expect(own.length).toBeGreaterThan(50);
    expect(own.map(({ name }) => name)).toContain('target_left_foot');
    expect([...against(own)]).toEqual([]);
  });

  it('that has more or fewer bones names them, and says whether the two would merge', () => {
    const more = against([
      ...own,
      { name: 'tail', parent: 'quay_hips', translation: [0, 0, -0.1], rotation: [0, 0, 0, 1], role: null },
    ]);
    expect(more.get('missing')).toMatchObject({ severity: 'caution', parts: ['tail'] });
    const fewer = against(own.filter(({ name }) => name !== 'target_left_foot'));
    expect(fewer.get('extra')?.sentence).toMatch(/target_left_foot\. It would merge/);
  });

  it('under other names tells these, the root that handoff adds among them, and nothing as missing or extra', () => {
    const renamed = (name: string | null) => name && `pier_${name}`;
    const roleOf = (name: string) => QUAY.roles.find(({ exportName }) => exportName === name)?.id ?? null;
    const found = against(
      own.map((bone) => ({
        ...bone,
        name: `pier_${bone.name}`,
        parent: renamed(bone.parent),
        role: roleOf(bone.name),
      })),
    );
    expect(found.get('name')?.sentence).toMatch(/quay_root for pier_quay_root/);
    expect(found.has('parent')).toBe(false);
    // Targets have no role: nothing but their names could say what they are.
    expect(found.get('missing')?.parts.every((name) => /target|carry/.test(name))).toBe(true);
  });

  it('under another parent is a blocker, by both names', () => {
    const found = against(changed('quay_hand_left', { parent: 'quay_upper_arm_left' }));
    expect(found.get('parent')).toMatchObject({ severity: 'blocker' });
    expect(found.get('parent')?.sentence).toMatch(
      /quay_hand_left on quay_forearm_left in place of quay_upper_arm_left/,
    );
  });

  it('that stands otherwise is told in degrees and centimetres', () => {
    const bone = own.find(({ name }) => name === 'quay_forearm_left');
    if (!bone) throw new Error('no forearm');
    const [x, y, z] = bone.translation;
    expect(against(changed(bone.name, { translation: [x, y + 0.03, z] })).get('place')?.amount?.measured).toBeCloseTo(
      3,
      3,
    );
    const half = (20 * Math.PI) / 360;
    const turn = against(changed(bone.name, { rotation: turnedBy(bone.rotation, half) })).get('turn');
    expect(turn?.amount?.measured).toBeCloseTo(20, 3);
  });

  it('that hangs a bone on one that comes later, or has a name twice, is refused', () => {
    const faults = (bones: Bones) =>
      EngineProfileSchema.safeParse({ ...TIDEWATER, skeleton: { label: 'x', bones } }).error?.issues.map(
        ({ message }) => message,
      );
    expect(faults([...own].reverse())?.join()).toMatch(/does not stand before it/);
    expect(faults([...own, own[3]])?.join()).toMatch(/twice/);
  });
});

/** q times a turn about x by twice `half`. */
const turnedBy = ([x, y, z, w]: Bones[number]['rotation'], half: number): Bones[number]['rotation'] => {
  const [s, c] = [Math.sin(half), Math.cos(half)];
  return [w * s + x * c, y * c + z * s, z * c - y * s, w * c - x * s];
};
