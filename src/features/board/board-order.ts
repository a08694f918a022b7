import type { Board, BoardCell } from '@/contract/board';

export const ORDERS = ['name', 'harm'] as const;
export type BoardOrder = (typeof ORDERS)[number];
export const FILTERS = ['all', 'flagged', 'failed', 'old'] as const;
export type BoardFilter = (typeof FILTERS)[number];

const IS_SHOWN: Readonly<Record<BoardFilter, (cell: BoardCell) => boolean>> = {
  all: () => true,
  flagged: ({ state, drilled }) => state === 'carried' && (drilled?.count ?? 0) > 0,
  failed: ({ state }) => state === 'failed',
  old: ({ state }) => state === 'old',
};

export const countOf = (board: Board, filter: BoardFilter): number => board.cells.filter(IS_SHOWN[filter]).length;

const harmOf = ({ state, drilled }: BoardCell): number => (state === 'carried' ? (drilled?.harm ?? 0) : 0);

/**
 * The board with only the rows and columns that have a cell of the filter, and the most harmful first where that is asked
 * for. Cells that are not meant stay: beside a flag one wants to see what is not flagged.
 */
export function orderedBoard(board: Board, order: BoardOrder, filter: BoardFilter): Board {
  const meant = board.cells.filter(IS_SHOWN[filter]);
  const [rows, columns] = [new Map<string, number>(), new Map<string, number>()];
  for (const cell of meant) {
    rows.set(cell.characterId, (rows.get(cell.characterId) ?? 0) + harmOf(cell));
    columns.set(cell.motionKey, (columns.get(cell.motionKey) ?? 0) + harmOf(cell));
  }
  const kept = <Item>(
    items: readonly Item[],
    keyOf: (item: Item) => string,
    harms: ReadonlyMap<string, number>,
  ): Item[] => {
    const shown = filter === 'all' ? [...items] : items.filter((item) => harms.has(keyOf(item)));
    if (order === 'name') return shown;
    return shown.sort((a, b) => (harms.get(keyOf(b)) ?? 0) - (harms.get(keyOf(a)) ?? 0));
  };
  return {
    ...board,
    characters: kept(board.characters, ({ id }) => id, rows),
    motions: kept(board.motions, ({ key }) => key, columns),
  };
}
