import { describe, expect, it } from 'vitest';
import type { Board, BoardCell } from '@/contract/board';
import { countOf, orderedBoard } from './board-order';

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
};
const names = ({ characters, motions }: Board) => [characters.map(({ id }) => id), motions.map(({ key }) => key)];

describe('order of the board', () => {
  it('puts the most harm first; what is old counts for nothing', () => {
    expect(names(orderedBoard(board, 'harm', 'all'))).toEqual([
      ['c', 'b', 'a'],
      ['walk', 'run'],
    ]);
    expect(names(orderedBoard(board, 'name', 'all'))).toEqual([
      ['a', 'b', 'c'],
      ['run', 'walk'],
    ]);
  });

  it('shows only rows and columns with what is looked for', () => {
    expect(names(orderedBoard(board, 'name', 'flagged'))).toEqual([['b', 'c'], ['walk']]);
    expect(names(orderedBoard(board, 'name', 'old'))).toEqual([['a'], ['walk']]);
    expect(countOf(board, 'flagged')).toBe(2);
  });
});
