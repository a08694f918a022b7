import type { Board, BoardCell, BOARD_FILTERS, BOARD_ORDERS } from '@/contract/board';

type BoardOrder = (typeof BOARD_ORDERS)[number];
type BoardFilter = (typeof BOARD_FILTERS)[number];

const IS_SHOWN: Readonly<Record<BoardFilter, (cell: BoardCell) => boolean>> = {
  all: () => true,
  flagged: ({ state, drilled }) => state === 'carried' && (drilled?.harm ?? 0) > 0,
  failed: ({ state }) => state === 'failed',
  old: ({ state }) => state === 'old',
};

const harmOf = ({ state, drilled }: BoardCell): number => (state === 'carried' ? (drilled?.harm ?? 0) : 0);

/**
 * The motions of a page of the board that have a cell of the filter there, the most harmful first where that is asked for.
 * Its rows come so from the server; cells that are not meant stay: beside a flag one wants to see what is not flagged.
 */
export function orderedMotions(board: Board, order: BoardOrder, filter: BoardFilter): Board['motions'] {
  const harms = new Map<string, number>();
  for (const cell of board.cells.filter(IS_SHOWN[filter]))
    harms.set(cell.motionKey, (harms.get(cell.motionKey) ?? 0) + harmOf(cell));
  const shown = filter === 'all' ? [...board.motions] : board.motions.filter(({ key }) => harms.has(key));
  if (order === 'name') return shown;
  return shown.sort((a, b) => (harms.get(b.key) ?? 0) - (harms.get(a.key) ?? 0));
}
