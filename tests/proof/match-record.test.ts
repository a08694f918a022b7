import { describe, expect, it } from 'vitest';
import { QUAY } from '@/core/definition/quay';
import { shippedDialect } from '@/core/dialect/dialect';
import { createContext } from '@/core/match/context/context';
import type { Limb } from '@/core/match/limbs/limbs';
import { searchBody } from '@/core/match/body/search';
import { matchBones } from '@/core/match/match-bones';
import type { Match } from '@/core/match/context/match-types';
import type { Rig } from '@/core/rig/rig';
import { CREATURES, makeCreature } from '../../bench/match/creatures';
import { makeBiped } from '../../bench/match/make-rig';
import { TUNING_HABITS } from '../../bench/match/naming';
import { ODD_TOPOLOGIES } from '../../bench/match/odd-topologies';
import { Random } from '../../bench/match/random';
import { TUNING_TOPOLOGIES } from '../../bench/match/topologies';

const three = (value: number): string => value.toFixed(3);

/** All that a match says, a line each, so that a difference reads as what changed. */
function recordOf(rig: Rig, match: Match): string {
  const nameOf = (bone: number) => `${bone} ${rig.bones[bone]?.name ?? '-'}`;
  const { creature, frame, assignments, spares, lines } = match;
  return [
    `${creature.kind}: ${creature.reasons.join('; ')}`,
    `up ${frame.up.map(three).join(' ')}, front ${frame.facing.map(three).join(' ')}, ${three(frame.confidence)}, swapped ${frame.namesAreSwapped}: ${frame.reasons.join('; ')}`,
    ...Object.values(assignments).map(
      ({ role, boneIndex, confidence, state, runnersUp, evidence }) =>
        `${role}: ${nameOf(boneIndex)} ${state} ${three(confidence)} [${runnersUp.map((other) => `${other.boneIndex} ${three(other.confidence)}`).join(', ')}] ${evidence.join('; ')}`,
    ),
    ...lines.map((line) => `${line.lineId}: ${line.bones.join(' ')}`),
    ...spares.map(
      ({ boneIndex, kind, reason, ridesOn }) => `spare ${nameOf(boneIndex)}: ${kind}, ${reason}, on ${ridesOn}`,
    ),
    `root ${match.rootBone}, partners ${match.partners.join(' ')}`,
    ...scoresOf(rig),
    '',
  ].join('\n');
}

/** Scores before they become confidences, which hide all but close calls. */
function scoresOf(rig: Rig): string[] {
  const { hypotheses, legs, arms } = searchBody(createContext(rig, shippedDialect()));
  const limb = ({ kind, bones, score, length }: Limb) =>
    `${kind} ${bones.join(' ')}: ${three(score)}, length ${three(length)}`;
  return [
    ...[legs, arms].flatMap((limbs) => limbs.filter((_, at) => at % 6 === 0).map(limb)),
    ...hypotheses
      .filter((_, at) => at % 25 === 0)
      .map(
        ({ score, jointScore, trunk }) =>
          `body ${three(score)}, together ${three(jointScore)}, trunk ${three(trunk.score)}: ${trunk.hips} | ${trunk.spineRun.join(' ')} | ${trunk.neckRun.join(' ')} | ${trunk.head}, chest ${trunk.chest} ${three(trunk.chestCertainty)}`,
      ),
  ];
}

const topologies = [...TUNING_TOPOLOGIES, ...ODD_TOPOLOGIES];
const rigs: [name: string, rig: Rig][] = [
  ...topologies.flatMap((topology, at) =>
    TUNING_HABITS.filter(({ id }, habit) => id === 'opaque' || habit === at % TUNING_HABITS.length).map(
      (habit): [string, Rig] => [
        `${topology.name}-${habit.id}`,
        makeBiped(new Random(4_000_000 + at), topology, habit).rig,
      ],
    ),
  ),
  ...Object.keys(CREATURES).map((kind): [string, Rig] => [kind.replaceAll(' ', '-'), makeCreature(kind, 3, false)]),
];

/**
 * The matcher's full answer to some made-up rigs, as it stands. A change that moves any of it must show what it moves:
 * read the difference, then write it anew with `npx vitest run tests/proof/match-record.test.ts -u`.
 */
describe('the answer on record', () => {
  it.each(rigs)('%s', async (name, rig) => {
    await expect(recordOf(rig, matchBones(rig, QUAY))).toMatchFileSnapshot(`match-record/${name}.txt`);
  });
});
