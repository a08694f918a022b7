import { describe, expect, it } from 'vitest';
import { diffProfiles } from '@/core/profile/diff-profiles';
import { EngineProfileSchema } from '@/core/profile/profile';
import { EBB, SHIPPED_PROFILES, TIDEWATER } from '@/core/profile/shipped';
import { FIELD_GROUPS, formOf, valueAt, withForm } from './profile-fields';

describe('the form of a profile', () => {
  it('gives back what it was made from', () => {
    for (const profile of SHIPPED_PROFILES)
      expect(EngineProfileSchema.parse(withForm(profile, formOf(profile)))).toEqual(profile);
  });

  it('has only fields that a profile has, each once', () => {
    const paths = FIELD_GROUPS.flatMap(({ fields }) => fields).map(({ path }) => path);
    expect(new Set(paths).size).toBe(paths.length);
    const whole = { ...TIDEWATER, endBones: false };
    for (const path of paths) expect(valueAt(whole, path), path).toBeDefined();
  });

  it('keeps a switch that is turned on, and off again', () => {
    const on = withForm(TIDEWATER, { ...formOf(TIDEWATER), endBones: true }) as typeof TIDEWATER;
    expect(on.endBones).toBe(true);
    expect((withForm(on, { ...formOf(on), endBones: false }) as typeof TIDEWATER).endBones).toBe(false);
  });

  it('reads an empty limit as none, and an empty number as a fault', () => {
    const form = formOf(TIDEWATER);
    const parsed = EngineProfileSchema.parse(withForm(TIDEWATER, { ...form, 'limits/materials': '' }));
    expect(parsed.limits.materials).toBeNull();
    const faults = EngineProfileSchema.safeParse(
      withForm(TIDEWATER, { ...form, metresPerUnit: '', 'limits/influences': '0' }),
    );
    expect(faults.error?.issues.map(({ path }) => path.join('.'))).toEqual(
      expect.arrayContaining(['metresPerUnit', 'limits.influences']),
    );
  });
});

describe('two versions of a profile', () => {
  it('differ in the fields that were changed, and in no others', () => {
    const next = { ...TIDEWATER, version: 9, limits: { ...TIDEWATER.limits, influences: 8 }, morphs: ['smile'] };
    expect(diffProfiles(TIDEWATER, next)).toEqual(
      [
        { field: 'limits.influences', before: '4', after: '8' },
        { field: 'morphs', before: 'none', after: 'none' },
        { field: 'morphs.0', before: 'none', after: 'smile' },
      ].filter(({ before, after }) => before !== after),
    );
    expect(diffProfiles(TIDEWATER, TIDEWATER)).toEqual([]);
    expect(diffProfiles(TIDEWATER, EBB).some(({ field }) => field === 'up')).toBe(true);
  });
});
