import { describe, expect, it } from 'vitest';
import { plainBiped } from '../../../tests/helpers/plain-biped';
import { makeRig, type PlainBone } from '../../../tests/helpers/rig-maker';
import { QUAY } from '@/core/definition/quay';
import { NO_DECISIONS } from '@/core/intake/decisions';
import { runFirstPass } from '@/pipeline/match';
import { sidesQuestion } from './sides-choice';

const questionOf = (bones: readonly PlainBone[], facing: '+Z' | '-Z' | null = null) => {
  const rig = makeRig(bones);
  const decisions = { ...NO_DECISIONS, facing };
  const first = runFirstPass(rig, QUAY, {}, decisions);
  return { first, rig, question: sidesQuestion({ rig, ...first }, QUAY, decisions) };
};

describe('left and right in question', () => {
  it('are asked for where nothing shows the front, with both readings', () => {
    const { question, first, rig } = questionOf(plainBiped());
    const [name, mirror] = ['leftHand', 'rightHand'].map(
      (role) => rig.bones[first.match.assignments[role].boneIndex].name,
    );
    expect(question?.readings).toEqual([
      { facing: '+Z', part: 'left hand', bone: name },
      { facing: '-Z', part: 'left hand', bone: mirror },
    ]);
    expect(question?.reason).toMatch(/Hardly anything shows the front.* 67 % sure/);
  });

  it('are asked for where the names contradict the body, though both are strong', () => {
    const shown = { toes: 0.12, knees: 0.04, face: 0.09 };
    const { question, first } = questionOf(plainBiped(shown, ['right', 'left']));
    expect(question?.reason).toBe('The names say left where the body shows right');
    for (const [role, { state }] of Object.entries(first.match.assignments))
      if (/^(left|right)/.test(role)) expect(`${role} ${state}`).toBe(`${role} doubtful`);
  });

  it('are not asked for once a person has set the front, either way', () => {
    const shown = { toes: 0.12, knees: 0.04, face: 0.09 };
    for (const facing of ['+Z', '-Z'] as const) {
      const { question, first } = questionOf(plainBiped(shown, ['right', 'left']), facing);
      expect(question).toBeNull();
      expect(first.match.assignments.leftHand.state).toBe('proposed');
      // Only the body's own reading leaves the names contradicted.
      expect(first.match.frame.namesAreSwapped).toBe(facing === '+Z');
    }
  });

  it('are not asked for where they are clear, or where there is no figure', () => {
    expect(questionOf(plainBiped({ toes: 0.12 })).question).toBeNull();
    expect(questionOf([{ name: 'crate', parent: null, position: [0, 0, 0] }]).question).toBeNull();
  });
});
