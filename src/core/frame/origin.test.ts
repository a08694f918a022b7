import { describe, expect, it } from 'vitest';
import { biped } from '../../../tests/helpers/named-biped';
import { makeRig } from '../../../tests/helpers/rig-maker';
import { computeNormalisation } from './normalise';
import { findRaisedOrigin } from './origin';
import type { BodyFrame } from './body-frame';

const FRAME = { up: [0, 1, 0], facing: [0, 0, 1] } as unknown as BodyFrame;

/** The biped with everything so much lower. */
function lowered(metres: number) {
  const rig = makeRig(
    biped().map((bone) => ({
      ...bone,
      position: [bone.position[0], bone.position[1] - metres, bone.position[2]] as [number, number, number],
    })),
  );
  return findRaisedOrigin(rig, computeNormalisation(rig, FRAME), new Map([['hips', 0]]));
}

describe('the origin of a file', () => {
  it('is nothing odd where the figure stands on it', () => {
    const rig = makeRig(biped());
    const { floorMetres } = computeNormalisation(rig, FRAME);
    expect(lowered(floorMetres)).toBeNull();
  });

  it('is told of where it lies at the hips, and how far the soles are below', () => {
    const rig = makeRig(biped());
    const { floorMetres } = computeNormalisation(rig, FRAME);
    const hips = rig.bones[0].restWorld[13];
    expect(lowered(hips)).toEqual({ solesBelowMetres: expect.closeTo(hips - floorMetres, 9), isAtHips: true });
    expect(lowered(hips / 2)).toMatchObject({ isAtHips: false });
  });
});
