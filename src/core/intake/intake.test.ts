import { describe, expect, it } from 'vitest';
import { makeRig } from '../../../tests/helpers/rig-maker';
import { findCopiedBones } from '../rig/copied-bones';
import { describeDecisions, NO_DECISIONS } from './decisions';
import { compareSkeletons } from '../rig/same-skeleton';

type Made = Parameters<typeof makeRig>[0];
const arm: Made = [
  { name: 'base', parent: null, position: [0, 1, 0] },
  { name: 'upper', parent: 'base', position: [0.2, 1.4, 0] },
  { name: 'lower', parent: 'upper', position: [0.5, 1.4, 0] },
  { name: 'wrist', parent: 'lower', position: [0.8, 1.4, 0] },
];
const copied = (suffix: string, shift = 0): Made =>
  arm.map(({ name, parent, position: [x, y, z] }) => ({
    name: name + suffix,
    parent: parent && parent + suffix,
    position: [x + shift, y, z],
  }));
const pairs = (made: Made) => {
  const rig = makeRig(made);
  return findCopiedBones(rig).map(({ copy, original }) => [rig.bones[copy].name, rig.bones[original].name]);
};

describe('findCopiedBones', () => {
  it('finds a second skeleton by name and place, with any addition to its names', () => {
    expect(pairs([...arm, ...copied('_vest')])).toEqual([
      ['base_vest', 'base'],
      ['upper_vest', 'upper'],
      ['lower_vest', 'lower'],
      ['wrist_vest', 'wrist'],
    ]);
    expect(pairs([...copied('.001'), ...arm]).map(([copy]) => copy)).toEqual([
      'base.001',
      'upper.001',
      'lower.001',
      'wrist.001',
    ]);
  });

  it('takes helpers that lie on their own limb for no copies', () => {
    expect(
      pairs([
        ...arm,
        ...['upper', 'lower', 'wrist'].map((name) => ({
          name: `${name}_twist`,
          parent: name,
          position: arm.find((bone) => bone.name === name)?.position ?? ([0, 0, 0] as const),
        })),
      ]),
    ).toEqual([]);
  });

  it('wants the same place, and more than a pair or two', () => {
    expect(pairs([...arm, ...copied('_vest', 0.1)])).toEqual([]);
    expect(
      pairs([
        ...arm,
        { name: 'base_x', parent: null, position: [0, 1, 0] },
        { name: 'upper_x', parent: 'base_x', position: [0.2, 1.4, 0] },
      ]),
    ).toEqual([]);
  });
});

describe('compareSkeletons', () => {
  it("calls a part what stands on the body's bones, and nothing else", () => {
    const body = makeRig(arm);
    expect(compareSkeletons(body, makeRig(arm.slice(0, 3)))).toEqual({ shared: 3, total: 3, isPart: true });
    expect(compareSkeletons(body, makeRig(copied('', 0.2))).isPart).toBe(false);
    expect(compareSkeletons(body, makeRig(copied('_other'))).isPart).toBe(false);
  });
});

describe('describeDecisions', () => {
  it('says what changed in words', () => {
    expect(describeDecisions(NO_DECISIONS, { ...NO_DECISIONS, unitMetres: 0.01, pose: { kind: 'bind' } })).toBe(
      'unit set to 0.01 m, rest taken from the bind pose',
    );
    expect(describeDecisions({ ...NO_DECISIONS, up: '+Z' }, NO_DECISIONS)).toBe('up as measured');
  });
});
