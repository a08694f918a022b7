import { describe, expect, it } from 'vitest';
import { biped } from '../../../tests/helpers/named-biped';
import { makeRig } from '../../../tests/helpers/rig-maker';
import { runChecks } from '../checks/run-checks';
import { QUAY } from '../definition/quay';
import { initialFit } from '../fit/fit';
import { NO_DECISIONS } from '../intake/decisions';
import { planHandoff } from '../plan/handoff-plan';
import { EBB, TIDEWATER } from '../profile/shipped';
import type { Rig } from '../rig/rig';
import { runFirstPass } from '@/pipeline/match';
import { isSizeInDoubt, likelyUnits } from './normalise';

/** A figure of so many units, from head joint to toes, in a file that states its unit or none. */
function figure(units: number, unitMetres: number | null): Rig {
  const plain = makeRig(biped());
  const heights = plain.bones.map(({ restWorld }) => restWorld[13]);
  const scale = units / (Math.max(...heights) - Math.min(...heights));
  const rig = makeRig(
    biped().map((bone) => ({
      ...bone,
      position: bone.position.map((value) => value * scale) as [number, number, number],
    })),
  );
  return { ...rig, source: { ...rig.source, unitMetres } };
}

const read = (rig: Rig, unitMetres: number | null = null) =>
  runFirstPass(rig, QUAY, {}, { unitMetres, up: null, facing: null });

const sizeFindings = (rig: Rig, profile = TIDEWATER, unitMetres: number | null = null) => {
  const first = read(rig, unitMetres);
  const fit = initialFit(first.match, QUAY, { ...NO_DECISIONS, unitMetres });
  return runChecks(planHandoff({ rig, ...first, fit, definition: QUAY, profile }))
    .filter(({ key }) => key.startsWith('unit-and-axes/unit-in-doubt') || key.startsWith('proportions/height'))
    .map(({ key, severity }) => `${severity} ${key}`);
};

describe('how tall a figure is', () => {
  it('is told in decimetres where that makes a grown man of 17.33 units, not in feet a giant', () => {
    const { normalisation } = read(figure(17.33, null));
    expect(normalisation.heightMetres).toBeCloseTo(1.733, 6);
    expect(normalisation.unitFrom).toBe('height');
    expect(sizeFindings(figure(17.33, null))).toEqual([]);
  });

  it.each([
    [9.58, null],
    [0.25, 1],
    [30, 1],
  ])('of %d units under a header of %s is a doubt that stops, until somebody says what it is', (units, header) => {
    const rig = figure(units, header);
    const first = read(rig);
    expect(isSizeInDoubt(first.normalisation, null)).toBe(true);
    const noHeights = { ...TIDEWATER, heightMetres: null };
    expect(sizeFindings(rig, noHeights)).toEqual(['blocker unit-and-axes/unit-in-doubt']);
    const [likely] = likelyUnits(first.normalisation.heightFile);
    expect(sizeFindings(rig, noHeights, likely.metres)).toEqual([]);
  });

  it('is no doubt where the studio states such heights', () => {
    const small = read(figure(0.25, 1)).normalisation;
    const { heightMetres } = small;
    expect(isSizeInDoubt(small, { least: heightMetres - 0.1, most: heightMetres + 0.1 })).toBe(false);
  });

  it('outside of what the studio states stops a handoff, whoever says so', () => {
    for (const profile of [TIDEWATER, EBB]) {
      expect(sizeFindings(figure(5.28, 1), profile)).toEqual(['blocker proportions/height']);
      expect(sizeFindings(figure(17.33, null), profile, 0.3048)).toEqual(['blocker proportions/height']);
    }
  });
});
