'use client';

import Link from 'next/link';
import type { Board, BoardCell } from '@/contract/board';
import { countText } from '@/core/text/count';

interface BoardTableProps {
  readonly board: Board;
  readonly rows: ReadonlySet<string>;
  readonly columns: ReadonlySet<string>;
  readonly onRows: (rows: ReadonlySet<string>) => void;
  readonly onColumns: (columns: ReadonlySet<string>) => void;
  /** Told of the cell that is pointed at, in words. */
  readonly onFocus: (text: string | null) => void;
}

const toggled = (set: ReadonlySet<string>, id: string): ReadonlySet<string> => {
  const next = new Set(set);
  if (!next.delete(id)) next.add(id);
  return next;
};

export function BoardTable({ board, rows, columns, onRows, onColumns, onFocus }: BoardTableProps) {
  const cells = new Map(board.cells.map((cell) => [`${cell.characterId} ${cell.motionKey}`, cell]));
  const nameOf = (id: string) => board.characters.find((each) => each.id === id)?.name ?? 'another';
  const firstHouse = board.motions.findIndex(({ isHouse }) => isHouse);
  return (
    <div className="min-h-0 flex-1 overflow-auto rounded-box border border-base-300 bg-base-100">
      <table className="border-separate border-spacing-0 text-[13px]">
        <thead>
          <tr>
            <th
              scope="col"
              className="sticky top-0 left-0 z-20 border-r border-b border-base-300 bg-base-100 px-3 text-left align-bottom"
            >
              <span className="quiet font-medium">Character</span>
            </th>
            {board.motions.map(({ key, name }, at) => (
              <th
                key={key}
                scope="col"
                className={`sticky top-0 z-10 border-b border-base-300 bg-base-100 px-1 pt-2 pb-1.5 align-bottom font-normal ${at === firstHouse && at > 0 ? 'border-l' : ''}`}
              >
                <label className="flex cursor-pointer flex-col items-center gap-1.5">
                  <span
                    className="max-h-40 overflow-hidden text-left text-ellipsis whitespace-nowrap [writing-mode:sideways-lr]"
                    title={name}
                  >
                    {name}
                  </span>
                  <input
                    type="checkbox"
                    className="checkbox checkbox-xs"
                    aria-label={`Choose ${name}`}
                    checked={columns.has(key)}
                    onChange={() => onColumns(toggled(columns, key))}
                  />
                </label>
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {board.characters.map(({ id, name, canCarry }) => (
            <tr key={id} className="group hover:bg-base-200">
              <th
                scope="row"
                className="sticky left-0 z-10 border-r border-base-300 bg-base-100 px-3 py-1 text-left font-normal group-hover:bg-base-200"
              >
                <label className="flex cursor-pointer items-center gap-2 whitespace-nowrap">
                  <input
                    type="checkbox"
                    className="checkbox checkbox-xs"
                    aria-label={`Choose ${name}`}
                    disabled={!canCarry}
                    checked={rows.has(id)}
                    onChange={() => onRows(toggled(rows, id))}
                  />
                  <span className="max-w-48 truncate">{name}</span>
                  {!canCarry && <span className="quiet">no hips</span>}
                </label>
              </th>
              {board.motions.map(({ key, name: motion }, at) => (
                <td
                  key={key}
                  className={`p-0 text-center ${at === firstHouse && at > 0 ? 'border-l border-base-300' : ''}`}
                >
                  <Cell
                    cell={cells.get(`${id} ${key}`) ?? null}
                    href={`/characters/${id}/drill?motion=${key}`}
                    onFocus={onFocus}
                    subject={`${name}, ${motion}`}
                    nameOf={nameOf}
                  />
                </td>
              ))}
            </tr>
          ))}
        </tbody>
      </table>
    </div>
  );
}

interface CellProps {
  readonly cell: BoardCell | null;
  readonly href: string;
  readonly subject: string;
  readonly nameOf: (id: string) => string;
  readonly onFocus: (text: string | null) => void;
}

function Cell({ cell, href, subject, nameOf, onFocus }: CellProps) {
  const text = `${subject}: ${stateText(cell, nameOf)}`;
  const frame = cell?.state === 'carried' ? cell.drilled?.worst[0]?.frame : undefined;
  return (
    <Link
      href={frame === undefined ? href : `${href}&frame=${frame}`}
      aria-label={text}
      onPointerEnter={() => onFocus(text)}
      onFocus={() => onFocus(text)}
      onPointerLeave={() => onFocus(null)}
      className="grid h-7 w-8 place-items-center hover:outline hover:outline-primary"
    >
      <Mark cell={cell} />
    </Link>
  );
}

/** Beyond it a flag is far out for long: 5 is a quarter over the limit for 400 frames, or five times over for one. */
const MUCH_HARM = 5;

function Mark({ cell }: { readonly cell: BoardCell | null }) {
  if (!cell) return <span aria-hidden className="size-1 rounded-full bg-(--ink-quiet)" />;
  if (cell.state === 'failed')
    return (
      <svg aria-hidden viewBox="0 0 10 10" className="size-3.5 text-error">
        <path d="M1 1 9 9M9 1 1 9" stroke="currentColor" strokeWidth="2" />
      </svg>
    );
  if (cell.state === 'old') return <span aria-hidden className="size-3 border-2 border-(--ink-quiet)" />;
  const { drilled } = cell;
  if (drilled && drilled.count > 0)
    return (
      <svg
        aria-hidden
        viewBox="0 0 12 12"
        className={`size-4 ${drilled.harm > MUCH_HARM ? 'text-error' : 'text-warning'}`}
      >
        <path
          d="M6 1 11.4 11H.6Z"
          fill={drilled.harm > MUCH_HARM ? 'currentColor' : 'none'}
          stroke="currentColor"
          strokeWidth="1.6"
        />
      </svg>
    );
  return (
    <span aria-hidden className="flex items-center">
      {cell.sharesWith && <span className="h-0.5 w-2 bg-primary" />}
      <span className="size-3 bg-primary" />
    </span>
  );
}

function stateText(cell: BoardCell | null, nameOf: (id: string) => string): string {
  if (!cell) return 'not yet';
  if (cell.state === 'failed') return `failed. ${cell.problem?.message ?? ''}`;
  if (cell.state === 'old') return 'old: the motion or the fit changed since';
  const length = `${cell.frames} frames at ${Number(cell.framesPerSecond.toFixed(2))}/s`;
  if (cell.sharesWith && !cell.drilled?.count)
    return `carried, ${length}; takes the clip of ${nameOf(cell.sharesWith)}, the same skeleton`;
  const differs =
    cell.differsDeg === null
      ? ''
      : `; the same skeleton as another, but its clip is ${cell.differsDeg.toFixed(1)}° off`;
  const { drilled } = cell;
  const found = !drilled
    ? ''
    : drilled.count === 0
      ? '; no flag'
      : `; ${countText(drilled.count, 'flag')}. ${drilled.worst[0]?.sentence ?? ''}`;
  return `carried, ${length}${differs}${found}`;
}
