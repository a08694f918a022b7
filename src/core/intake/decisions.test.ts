import { createHash } from 'node:crypto';
import { describe, expect, it } from 'vitest';
import { AS_FOUND_KEY, decisionsKey } from '@/server/readings/decisions-key';
import {
  describeDecisions,
  IntakeDecisionsSchema,
  isAsFound,
  isSameReading,
  KeptDecisionsSchema,
  nextMade,
  NO_DECISIONS,
  TreeRepairSchema,
  withoutRepair,
  type IntakeDecisions,
} from './decisions';

const merge = (change: Partial<IntakeDecisions>): IntakeDecisions => ({ ...NO_DECISIONS, ...change });
const collapse = { kind: 'collapse', node: 4, name: 'oar' } as const;

describe('kept decisions', () => {
  it('from before repairs and side marks could be made are read as not made', () => {
    const { tree: _tree, sideMarks: _marks, ...old } = merge({ unitMetres: 0.01 });
    expect(KeptDecisionsSchema.parse(old)).toEqual(merge({ unitMetres: 0.01 }));
    expect(KeptDecisionsSchema.parse(undefined)).toEqual(NO_DECISIONS);
    expect(() => KeptDecisionsSchema.parse({ unitMetres: 'metre' })).toThrow();
  });

  it('sent over the interface never fill in what was not named', () => {
    expect(IntakeDecisionsSchema.partial().parse({ unitMetres: 1 })).toEqual({ unitMetres: 1 });
  });

  it('have the key that they had before repairs, side marks and mending came, while none is made', () => {
    const { tree: _tree, sideMarks: _marks, mending: _mending, provenance: _provenance, ...old } = NO_DECISIONS;
    const ordered = Object.keys(old)
      .sort()
      .map((key) => [key, old[key as keyof typeof old]]);
    expect(AS_FOUND_KEY).toBe(createHash('sha256').update(JSON.stringify(ordered)).digest('hex'));
    const keys = [
      NO_DECISIONS,
      merge({ tree: [collapse] }),
      merge({ sideMarks: { left: 'lee', right: 'luff' } }),
      merge({ sideMarks: { left: 'luff', right: 'lee' } }),
    ].map(decisionsKey);
    expect(new Set(keys).size).toBe(4);
    expect(decisionsKey(merge({ provenance: { ...NO_DECISIONS.provenance, author: 'Odo' } }))).toBe(AS_FOUND_KEY);
  });

  it('know whether they change what is read', () => {
    expect(isAsFound(NO_DECISIONS)).toBe(true);
    expect(isAsFound(merge({ tree: [collapse] }))).toBe(false);
    expect(isSameReading(merge({ provenance: { ...NO_DECISIONS.provenance, author: 'Odo' } }), NO_DECISIONS)).toBe(
      true,
    );
  });
});

describe('describing what changed', () => {
  it('names the last repair, and one taken back', () => {
    const hung = { kind: 'reparent', node: 3, parent: 9, name: 'tiller', parentName: 'hand' } as const;
    expect(describeDecisions(NO_DECISIONS, merge({ tree: [collapse] }))).toBe('oar merged into its parent');
    expect(describeDecisions(merge({ tree: [collapse] }), merge({ tree: [collapse, hung] }))).toBe(
      'tiller parented to hand',
    );
    expect(describeDecisions(merge({ tree: [collapse, hung] }), merge({ tree: [hung] }))).toBe(
      'repair of the tree taken back',
    );
    expect(
      describeDecisions(NO_DECISIONS, merge({ tree: [{ kind: 'insert', node: 1, share: 0.5, name: 'wrist' }] })),
    ).toBe('wrist inserted');
  });

  it('says all that changed, in one line, and that nothing did', () => {
    expect(
      describeDecisions(NO_DECISIONS, merge({ unitMetres: 0.01, sideMarks: { left: 'lee', right: 'luff' } })),
    ).toBe('unit set to 0.01 m, side marks set to lee and luff');
    expect(describeDecisions(merge({ sideMarks: { left: 'lee', right: 'luff' } }), NO_DECISIONS)).toBe(
      'side marks as learned',
    );
    expect(describeDecisions(NO_DECISIONS, NO_DECISIONS)).toBe('intake unchanged');
  });
});

it.each([
  { kind: 'collapse', node: -1, name: 'x' },
  { kind: 'collapse', node: 1, name: ' ' },
  { kind: 'insert', node: 1, share: 1.5, name: 'x' },
  { kind: 'reparent', node: 1, name: 'x', parentName: 'y' },
  { kind: 'burn', node: 1, name: 'x' },
])('refuses the repair %j', (repair) => {
  expect(TreeRepairSchema.safeParse(repair).success).toBe(false);
});

describe('repairs of joints that repairs made', () => {
  const insert = (node: number, made?: number) =>
    ({ kind: 'insert', node, share: 0.5, name: 'joint', ...(made === undefined ? {} : { made }) }) as const;
  const merge1 = (node: number) => ({ kind: 'collapse', node, name: 'joint' }) as const;
  const hang = (node: number, parent: number) =>
    ({ kind: 'reparent', node, parent, name: 'it', parentName: 'that' }) as const;

  it('each new joint gets an index that no repair names', () => {
    expect(nextMade([])).toBe(-2);
    expect(nextMade([insert(4)])).toBe(-2);
    expect(nextMade([insert(4, -2), insert(5, -3), hang(6, -2)])).toBe(-4);
    expect(nextMade([merge1(-7)])).toBe(-8);
  });

  it('a joint taken back takes the repairs that name it along, and theirs', () => {
    const tree = [insert(4, -2), insert(-2, -3), merge1(9), hang(7, -3), merge1(-2), insert(8)];
    expect(withoutRepair(tree, 0)).toEqual([merge1(9), insert(8)]);
    expect(withoutRepair(tree, 1)).toEqual([insert(4, -2), merge1(9), merge1(-2), insert(8)]);
    expect(withoutRepair(tree, 2)).toEqual(tree.filter((_, at) => at !== 2));
    expect(withoutRepair(tree, 5)).toEqual(tree.slice(0, 5));
  });

  it('are named below the bones of the file, and no index names nothing', () => {
    const parse = (tree: unknown) => IntakeDecisionsSchema.safeParse({ ...NO_DECISIONS, tree }).success;
    expect(parse([insert(4, -2), hang(7, -2)])).toBe(true);
    expect(parse([hang(7, -1)])).toBe(false);
    expect(parse([insert(4, -1)])).toBe(false);
    expect(parse([insert(4, 3)])).toBe(false);
  });
});
