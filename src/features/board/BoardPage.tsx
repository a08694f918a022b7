'use client';

import Link from 'next/link';
import { useMemo, useState } from 'react';
import type { Board } from '@/contract/board';
import { countText } from '@/core/text/count';
import { Choice } from '@/ui/Choice';
import { ProblemNote } from '@/ui/ProblemNote';
import { useListening } from '@/ui/use-listening';
import { PageHead } from '@/ui/PageHead';
import { BoardJobs } from './BoardJobs';
import { FILTERS, countOf, orderedBoard, ORDERS, type BoardFilter, type BoardOrder } from './board-order';
import { BoardTable } from './BoardTable';
import { OutForm } from './OutForm';
import { useBoard } from './use-board';

const NONE: ReadonlySet<string> = new Set();

/** Characters by motions: what was carried, what is old by now, what failed, what nobody tried. */
export function BoardPage({ board: given, characters }: { readonly board: Board; readonly characters: string | null }) {
  useListening('board');
  const handle = useBoard(given, characters);
  const { board, jobs, problem } = handle;
  const [rows, setRows] = useState(NONE);
  const [columns, setColumns] = useState(NONE);
  const [isWriting, setWriting] = useState(false);
  const [order, setOrder] = useState<BoardOrder>('name');
  const [filter, setFilter] = useState<BoardFilter>('all');
  const [focused, setFocused] = useState<string | null>(null);
  const shown = useMemo(() => orderedBoard(board, order, filter), [board, order, filter]);
  const able = board.characters.filter(({ canCarry }) => canCarry);
  const characterIds = (rows.size > 0 ? able.filter(({ id }) => rows.has(id)) : able).map(({ id }) => id);
  const motionKeys = (columns.size > 0 ? board.motions.filter(({ key }) => columns.has(key)) : board.motions).map(
    ({ key }) => key,
  );
  const isNothing = characterIds.length === 0 || motionKeys.length === 0;
  const failed = board.cells.filter(({ state }) => state === 'failed');
  const nameOf = (id: string) => board.characters.find((each) => each.id === id)?.name ?? '';
  const motionName = (key: string) => board.motions.find((each) => each.key === key)?.name ?? '';
  return (
    <div className="flex h-full min-h-full flex-col">
      <PageHead
        title="Board"
        about={`${countText(board.characters.length, 'character')} by ${countText(board.motions.length, 'motion')}`}
        beside={
          characters !== null && (
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
          Carry over {characterIds.length} × {motionKeys.length}
        </button>
      </PageHead>
      <main className="flex min-h-0 w-full flex-1 flex-col gap-3 p-4">
        {problem && <ProblemNote problem={problem} onClose={handle.dismissProblem} />}
        {isWriting && (
          <OutForm
            characterIds={characterIds}
            motionKeys={motionKeys}
            onCancel={() => setWriting(false)}
            onWrite={async (wanted) => {
              if (await handle.writeOut(wanted)) setWriting(false);
            }}
          />
        )}
        <BoardJobs jobs={jobs} onCancel={handle.cancel} onDismiss={handle.dismiss} />
        {board.characters.length === 0 ? (
          <p className="quiet m-auto max-w-md text-center">
            No humanoid yet. Add characters on the{' '}
            <Link className="link link-primary" href="/">
              roster
            </Link>
            ; they stand here with every motion of the shelf and of the house set.
          </p>
        ) : (
          <>
            <Order board={board} order={order} filter={filter} onOrder={setOrder} onFilter={setFilter} />
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

const ORDER_TEXT: Readonly<Record<BoardOrder, string>> = { name: 'by name', harm: 'most harm first' };
const FILTER_TEXT: Readonly<Record<BoardFilter, string>> = {
  all: 'all',
  flagged: 'flagged',
  failed: 'failed',
  old: 'old',
};

interface OrderProps {
  readonly board: Board;
  readonly order: BoardOrder;
  readonly filter: BoardFilter;
  readonly onOrder: (order: BoardOrder) => void;
  readonly onFilter: (filter: BoardFilter) => void;
}

/** Which rows and columns stand there, and in which order. */
function Order({ board, order, filter, onOrder, onFilter }: OrderProps) {
  return (
    <div className="flex shrink-0 items-center gap-6 text-[13px]">
      <fieldset className="flex items-center gap-1">
        <legend className="sr-only">Order</legend>
        <span className="quiet">Order</span>
        {ORDERS.map((each) => (
          <Choice key={each} isOn={order === each} onClick={() => onOrder(each)}>
            {ORDER_TEXT[each]}
          </Choice>
        ))}
      </fieldset>
      <fieldset className="flex items-center gap-1">
        <legend className="sr-only">Show</legend>
        <span className="quiet">Show</span>
        {FILTERS.map((each) => (
          <Choice key={each} isOn={filter === each} onClick={() => onFilter(each)}>
            {each === 'all' ? FILTER_TEXT[each] : `${FILTER_TEXT[each]} ${countOf(board, each)}`}
          </Choice>
        ))}
      </fieldset>
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
