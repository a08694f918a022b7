import { z } from 'zod';
import { SPARE_KINDS } from '../../match/context/match-types';
import { boundedArray } from '../../schema/bounded-array';
import { roleBonesOf } from '../fit';
import { defineAction } from './action';
import { done, nothing, unknownBone } from './outcome';
import { BoneIndex } from './request-parts';

/** Says what bones without a role are; null: as the first pass explains them. */
export const setSpareKind = defineAction({
  schema: z.strictObject({
    kind: z.literal('set-spare-kind'),
    bones: boundedArray(BoneIndex, 20_000, 1),
    spareKind: z.enum(SPARE_KINDS).nullable(),
  }),
  label: 'Say what spares are',
  apply: (state, { bones, spareKind }, { rig }) => {
    const missing = bones.find((bone) => bone >= rig.bones.length);
    const refusal = missing === undefined ? null : unknownBone(missing, rig);
    if (refusal) return refusal;
    const mapped = new Set(roleBonesOf(state).values());
    const spares = bones.filter((bone) => !mapped.has(bone));
    if (spares.length === 0) return nothing('These bones have roles; only spares have a kind.');
    const meant = new Set(spares.map(String));
    const kept = Object.entries(state.spareKinds).filter(([bone]) => !meant.has(bone));
    const set = spareKind === null ? [] : spares.map((bone) => [String(bone), spareKind] as const);
    return done(state, { spareKinds: Object.fromEntries([...kept, ...set]) });
  },
  describe: ({ bones, spareKind }, naming) => {
    const what = bones.length === 1 ? naming.bone(bones[0]) : `${bones.length} spares`;
    return `${what} ${spareKind === null ? 'explained as found' : `set to ${spareKind}`}`;
  },
});
