'use client';

import Link from 'next/link';
import { useMemo, useState } from 'react';
import { BOARD_FILTERS, BOARD_ORDERS, type Board } from '@/contract/board';
import { countText } from '@/core/text/count';
import { Choice } from '@/ui/Choice';
import { ProblemNote } from '@/ui/ProblemNote';
import { useListening } from '@/ui/use-listening';
import { PageHead } from '@/ui/PageHead';
import { BoardJobs } from './BoardJobs';
import { orderedMotions } from './board-order';
import { BoardTable } from './BoardTable';
import { OutForm } from './OutForm';
import { useBoard, type BoardChoice, type BoardView } from './use-board';

const NONE: ReadonlySet<string> = new Set();

/** Characters by motions: what was carried, what is old by now, what failed, what nobody tried. */
export function BoardPage({ board: given, ...choice }: { readonly board: Board } & BoardChoice) {
  useListening('board');
  const handle = useBoard(given, choice);
  const { board, view, jobs, problem } = handle;
  const [rows, setRows] = useState(NONE);
  const [columns, setColumns] = useState(NONE);
  const [isWriting, setWriting] = useState(false);
  const [focused, setFocused] = useState<string | null>(null);
  const { order, filter } = view;
  const shown = useMemo(() => ({ ...board, motions: orderedMotions(board, order, filter) }), [board, order, filter]);
  // Rows are chosen on any page; nothing chosen means all, of which only a page is here.
  const characterIds = rows.size > 0 ? [...rows] : null;
  const count = characterIds?.length ?? board.able;
  const motionKeys = (columns.size > 0 ? board.motions.filter(({ key }) => columns.has(key)) : board.motions).map(
    ({ key }) => key,
  );
  const isNothing = count === 0 || motionKeys.length === 0;
  const failed = board.cells.filter(({ state }) => state === 'failed');
  const nameOf = (id: string) => board.characters.find((each) => each.id === id)?.name ?? '';
  const motionName = (key: string) => board.motions.find((each) => each.key === key)?.name ?? '';
  return (
    <div className="flex h-full min-h-full flex-col">
      <PageHead
        title="Board"
        about={`${countText(board.total, 'character')} by ${countText(board.motions.length, 'motion')}`}
        beside={
          (choice.characters ?? choice.selection) !== undefined && (
            <Link href="/board" className="link text-[13px] link-primary">
              Show all
            </Link>
          )
        }
      >
        <Link href="/motions" className="btn btn-ghost font-normal btn-sm">
          Motions
        </Link>
        <button
          className="btn btn-sm"
          disabled={isNothing}
          aria-expanded={isWriting}
          onClick={() => setWriting(!isWriting)}
        >
          Write out …
        </button>
        <button
          className="btn btn-primary btn-sm"
          disabled={isNothing}
          onClick={() => void handle.carry(characterIds, motionKeys)}
        >
          Carry over {count} × {motionKeys.length}
        </button>
      </PageHead>
      <main className="flex min-h-0 w-full flex-1 flex-col gap-3 p-4">
        {problem && <ProblemNote problem={problem} onClose={handle.dismissProblem} />}
        {isWriting && (
          <OutForm
            chosen={handle.chosen(characterIds)}
            count={count}
            motionKeys={motionKeys}
            onCancel={() => setWriting(false)}
            onWrite={async (wanted) => {
              if (await handle.writeOut(wanted)) setWriting(false);
            }}
          />
        )}
        <BoardJobs jobs={jobs} onCancel={handle.cancel} onDismiss={handle.dismiss} />
        {board.total === 0 && filter === 'all' ? (
          <p className="quiet m-auto max-w-md text-center">
            No humanoid yet. Add characters on the{' '}
            <Link className="link link-primary" href="/">
              roster
            </Link>
            ; they stand here with every motion of the shelf and of the house set.
          </p>
        ) : (
          <>
            <Order board={board} view={view} onLook={handle.look} />
            {shown.characters.length === 0 ? (
              <p className="quiet m-auto">No cell is like that.</p>
            ) : (
              <BoardTable
                board={shown}
                rows={rows}
                columns={columns}
                onRows={setRows}
                onColumns={setColumns}
                onFocus={setFocused}
              />
            )}
            <p role="status" className="min-h-10 shrink-0 text-[13px]">
              {focused ?? (
                <span className="quiet">Point at a cell to read what is in it; it opens the Drill there.</span>
              )}
            </p>
          </>
        )}
        <Legend />
        {failed.length > 0 && (
          <section aria-label="Failed" className="max-h-40 shrink-0 overflow-auto text-[13px]">
            <h2 className="font-semibold">{failed.length} failed</h2>
            <ul>
              {failed.map((cell) => (
                <li key={`${cell.characterId} ${cell.motionKey}`}>
                  {nameOf(cell.characterId)}, {motionName(cell.motionKey)}:{' '}
                  <span className="text-error">{cell.problem?.message}</span> {cell.problem?.remedy}
                </li>
              ))}
            </ul>
          </section>
        )}
      </main>
    </div>
  );
}

const ORDER_TEXT: Readonly<Record<BoardView['order'], string>> = { name: 'by name', harm: 'most harm first' };
const FILTER_TEXT: Readonly<Record<BoardView['filter'], string>> = {
  all: 'all',
  flagged: 'flagged',
  failed: 'failed',
  old: 'old',
};

interface OrderProps {
  readonly board: Board;
  readonly view: BoardView;
  readonly onLook: (view: Partial<BoardView>) => void;
}

/** Which rows and columns stand there, in which order, and which page of them. */
function Order({ board, view: { order, filter, page }, onLook }: OrderProps) {
  const pages = Math.max(1, Math.ceil(board.total / board.size));
  const first = (page - 1) * board.size + 1;
  return (
    <div className="flex shrink-0 items-center gap-6 text-[13px]">
      <fieldset className="flex items-center gap-1">
        <legend className="sr-only">Order</legend>
        <span className="quiet">Order</span>
        {BOARD_ORDERS.map((each) => (
          <Choice key={each} isOn={order === each} onClick={() => onLook({ order: each })}>
            {ORDER_TEXT[each]}
          </Choice>
        ))}
      </fieldset>
      <fieldset className="flex items-center gap-1">
        <legend className="sr-only">Show</legend>
        <span className="quiet">Show</span>
        {BOARD_FILTERS.map((each) => (
          <Choice key={each} isOn={filter === each} onClick={() => onLook({ filter: each })}>
            {each === 'all' ? FILTER_TEXT[each] : `${FILTER_TEXT[each]} ${board.counts[each]}`}
          </Choice>
        ))}
      </fieldset>
      {pages > 1 && (
        <nav aria-label="Pages" className="ml-auto flex items-center gap-2">
          <button className="btn btn-xs" disabled={page <= 1} onClick={() => onLook({ page: page - 1 })}>
            Previous
          </button>
          <span>
            {first} to {Math.min(board.total, first + board.size - 1)} of {board.total}
          </span>
          <button className="btn btn-xs" disabled={page >= pages} onClick={() => onLook({ page: page + 1 })}>
            Next
          </button>
        </nav>
      )}
    </div>
  );
}

function Legend() {
  return (
    <p className="quiet shrink-0 text-[13px]">
      A filled square was carried and has no flag; a joined one takes the clip of a character of the same skeleton; a
      triangle has flags, a filled one much harm; a hollow square is older than the motion or the fit; a cross failed; a
      dot was not tried. Nothing chosen means all.
    </p>
  );
}
