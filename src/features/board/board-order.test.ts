import { describe, expect, it } from 'vitest';
import type { Board, BoardCell } from '@/contract/board';
import { orderedMotions } from './board-order';

const cell = (characterId: string, motionKey: string, harm: number, change: Partial<BoardCell> = {}): BoardCell => ({
  characterId,
  motionKey,
  state: 'carried',
  frames: 10,
  framesPerSecond: 30,
  sharesWith: null,
  differsDeg: null,
  drilled: { count: harm > 0 ? 1 : 0, harm, worst: [] },
  problem: null,
  author: '',
  at: '2026-01-01T00:00:00.000Z',
  ...change,
});
const board: Board = {
  characters: ['a', 'b', 'c'].map((id) => ({ id, name: id, canCarry: true })),
  motions: ['run', 'walk'].map((key) => ({ key, name: key, isHouse: true })),
  cells: [cell('a', 'run', 0), cell('b', 'walk', 2), cell('c', 'walk', 7), cell('a', 'walk', 99, { state: 'old' })],
  jobs: [],
  total: 3,
  able: 3,
  page: 1,
  size: 100,
  counts: { flagged: 2, failed: 0, old: 1 },
};
const keys = (...given: [Parameters<typeof orderedMotions>[1], Parameters<typeof orderedMotions>[2]]) =>
  orderedMotions(board, ...given).map(({ key }) => key);

describe('columns of the board', () => {
  it('have the most harm first; what is old counts for nothing', () => {
    expect(keys('harm', 'all')).toEqual(['walk', 'run']);
    expect(keys('name', 'all')).toEqual(['run', 'walk']);
  });

  it('are those with a cell of the filter', () => {
    expect(keys('name', 'flagged')).toEqual(['walk']);
    expect(keys('name', 'failed')).toEqual([]);
    expect(keys('harm', 'old')).toEqual(['walk']);
  });
});
