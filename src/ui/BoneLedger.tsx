'use client';

import { useVirtualizer } from '@tanstack/react-virtual';
import { memo, useEffect, useMemo, useRef, useState } from 'react';
import { BONE_DRAG } from './bone-drag';
import { ConfidenceBar } from './ConfidenceBar';
import { capitalised } from './text';

/** One bone as the ledger shows it, in tree order. */
export interface LedgerRow {
  readonly index: number;
  readonly name: string;
  readonly prefixLength: number;
  readonly depth: number;
  /** Role label, spare kind, or a dash for a root. */
  readonly caption: string;
  readonly kind: 'role' | 'spare' | 'member' | 'root';
  readonly confidence: number | null;
  readonly isDoubtful: boolean;
  readonly skinWeight: number;
  /** Why a spare is spare, for the tooltip. */
  readonly reason: string;
}

export interface BoneLedgerProps {
  readonly rows: readonly LedgerRow[];
  readonly selected: number | null;
  readonly hovered: number | null;
  /** Bones taken together, in the order in which they were marked. */
  readonly marked: readonly number[];
  readonly onPick: (bone: number) => void;
  readonly onMark: (bones: readonly number[]) => void;
  readonly onHover: (bone: number | null) => void;
}

const FILTERS = ['All', 'Doubtful', 'Spare', 'Skinned, no role'] as const;
type Filter = (typeof FILTERS)[number];
const ROW_HEIGHT = 25;
const STEP = 9;
const MOST_STEPS = 11;
const SCROLL_REST_MS = 150;

const passes: Record<Filter, (row: LedgerRow) => boolean> = {
  All: () => true,
  Doubtful: (row) => row.isDoubtful,
  Spare: (row) => row.kind === 'spare',
  // Bones that move vertices and yet have no role.
  'Skinned, no role': (row) => row.kind === 'spare' && row.skinWeight > 0,
};

/** The rig's tree as a table; only the rows in view are drawn. */
export function BoneLedger({ rows, selected, hovered, marked, onPick, onMark, onHover }: BoneLedgerProps) {
  const [filter, setFilter] = useState<Filter>('All');
  const [text, setText] = useState('');
  const scroller = useRef<HTMLDivElement>(null);
  /** While rows pass under a resting pointer nothing is hovered: each would have the stage drawn anew. */
  const scrolledAt = useRef(-Infinity);
  const wanted = text.trim().toLowerCase();
  const shown = useMemo(
    () => rows.filter((row) => passes[filter](row) && `${row.name} ${row.caption}`.toLowerCase().includes(wanted)),
    [rows, filter, wanted],
  );
  // The virtualiser hands out functions that change what they return; this component is not memoised by the compiler.
  // eslint-disable-next-line react-hooks/incompatible-library
  const virtual = useVirtualizer({
    count: shown.length,
    getScrollElement: () => scroller.current,
    estimateSize: () => ROW_HEIGHT,
    overscan: 12,
  });
  const isFlat = filter !== 'All' || wanted !== '';
  const counts = useMemo(
    () => FILTERS.map((name) => (name === 'All' ? null : rows.filter(passes[name]).length)),
    [rows],
  );
  const isMarked = useMemo(() => new Set(marked), [marked]);

  /** What was last brought into view: rows that come anew with the server's answer must not pull the list back there. */
  const broughtIntoView = useRef('');
  useEffect(() => {
    const at = shown.findIndex((row) => row.index === selected);
    const wish = at < 0 ? '' : `${selected} among ${filter} ${wanted}`;
    if (wish !== '' && wish !== broughtIntoView.current) virtual.scrollToIndex(at, { align: 'auto' });
    broughtIntoView.current = wish;
  }, [selected, shown, filter, wanted, virtual]);

  /** The bone of the last plain click: with the next ones that are marked, it is the first of them. */
  const lastPlain = useRef<number | null>(null);
  const choose = (bone: number, event: { ctrlKey: boolean; metaKey: boolean; shiftKey: boolean }) => {
    const first = lastPlain.current;
    const soFar = marked.length === 0 && first !== null && first === selected && first !== bone ? [first] : marked;
    if (event.ctrlKey || event.metaKey)
      onMark(soFar.includes(bone) ? soFar.filter((other) => other !== bone) : [...soFar, bone]);
    else if (event.shiftKey && soFar.length > 0) {
      const places = [soFar[soFar.length - 1], bone].map((wantedBone) =>
        shown.findIndex((row) => row.index === wantedBone),
      );
      const between = shown.slice(Math.min(...places), Math.max(...places) + 1).map((row) => row.index);
      onMark([...soFar, ...between.filter((other) => !soFar.includes(other))]);
    } else {
      lastPlain.current = bone;
      onPick(bone);
    }
  };

  const move = (event: React.KeyboardEvent) => {
    const step = event.key === 'ArrowDown' ? 1 : event.key === 'ArrowUp' ? -1 : 0;
    if (step === 0) return;
    event.preventDefault();
    const at = shown.findIndex((row) => row.index === (hovered ?? selected));
    const next = shown[Math.max(0, Math.min(shown.length - 1, at < 0 ? 0 : at + step))];
    if (next) {
      onHover(next.index);
      virtual.scrollToIndex(shown.indexOf(next), { align: 'auto' });
    }
  };

  return (
    <section aria-label="Bones" className="flex h-full min-h-0 flex-col bg-base-100">
      <div className="px-3 pt-2.5">
        <h2 className="font-semibold">
          Bones <span className="quiet font-normal">{rows.length}</span>
        </h2>
        <div className="mt-1 flex gap-1 text-[13px]">
          {FILTERS.map((name, at) => (
            <button
              key={name}
              aria-pressed={filter === name}
              className={`rounded-field px-1.5 py-0.5 whitespace-nowrap ${filter === name ? 'bg-(--accent-wash) font-semibold text-primary' : 'quiet hover:bg-base-200'}`}
              onClick={() => setFilter(name)}
            >
              {name}
              {counts[at] !== null && ` ${counts[at]}`}
            </button>
          ))}
        </div>
        <input
          type="search"
          aria-label="Find a bone"
          placeholder="Type part of a name"
          className="input my-1.5 w-full font-mono text-[13px] input-sm"
          value={text}
          onChange={(event) => setText(event.target.value)}
          onKeyDown={(event) => {
            if (event.key === 'Enter' && shown[0]) onPick(shown[0].index);
            else move(event);
          }}
        />
      </div>
      <div
        ref={scroller}
        className="min-h-0 flex-1 overflow-auto"
        role="listbox"
        aria-label="Bone tree"
        aria-multiselectable
        aria-activedescendant={hovered === null ? undefined : optionId(hovered)}
        tabIndex={0}
        onKeyDown={(event) => {
          if (event.key === 'Enter' && hovered !== null) choose(hovered, event);
          else move(event);
        }}
        onPointerLeave={() => onHover(null)}
        onScroll={() => {
          scrolledAt.current = performance.now();
        }}
      >
        {shown.length === 0 && (
          <p className="quiet px-3 py-4">No bone here{wanted && <> matches &ldquo;{text}&rdquo;</>}.</p>
        )}
        <div
          className="relative"
          style={{ height: virtual.getTotalSize() }}
          onClick={(event) => {
            const bone = boneAt(event);
            if (bone !== null) choose(bone, event);
          }}
          onDragStart={(event) => {
            event.dataTransfer.setData(BONE_DRAG, String(boneAt(event)));
            event.dataTransfer.effectAllowed = 'link';
          }}
          onPointerMove={(event) => {
            const bone = boneAt(event);
            if (bone !== null && bone !== hovered && performance.now() - scrolledAt.current > SCROLL_REST_MS)
              onHover(bone);
          }}
        >
          {virtual.getVirtualItems().map((item) => {
            const row = shown[item.index];
            return (
              <LedgerLine
                key={row.index}
                row={row}
                top={item.start}
                isFlat={isFlat}
                wanted={wanted}
                isSelected={row.index === selected}
                isHovered={row.index === hovered}
                isMarked={isMarked.has(row.index)}
              />
            );
          })}
        </div>
      </div>
    </section>
  );
}

/** The bone of the row under an event of the list; its rows have no handlers of their own. */
const boneAt = ({ target }: { target: EventTarget }): number | null => {
  const row = target instanceof Element ? target.closest('[data-bone]') : null;
  return row ? Number(row.getAttribute('data-bone')) : null;
};

interface LedgerLineProps {
  readonly row: LedgerRow;
  /** Pixels from the top of the list. */
  readonly top: number;
  readonly isFlat: boolean;
  readonly wanted: string;
  readonly isSelected: boolean;
  readonly isHovered: boolean;
  readonly isMarked: boolean;
}

/** Drawn again only when it changes itself: a scroll brings a few new rows and leaves the others alone. */
const LedgerLine = memo(function LedgerLine({
  row,
  top,
  isFlat,
  wanted,
  isSelected,
  isHovered,
  isMarked,
}: LedgerLineProps) {
  return (
    <div
      id={optionId(row.index)}
      role="option"
      aria-selected={isSelected || isMarked}
      data-bone={row.index}
      draggable
      title={row.reason}
      className={`absolute inset-x-1 flex cursor-pointer items-center gap-2 rounded-field pr-2 ${isSelected ? 'bg-(--accent-wash)' : isHovered ? 'bg-base-200' : ''} ${isMarked ? 'outline -outline-offset-1 outline-primary/60' : ''}`}
      style={{ top, height: ROW_HEIGHT, paddingLeft: 8 + (isFlat ? 0 : Math.min(row.depth, MOST_STEPS) * STEP) }}
    >
      <BoneName row={row} wanted={wanted} />
      <span
        className={`max-w-28 truncate text-[13px] ${row.isDoubtful ? 'text-warning' : row.kind === 'role' ? '' : 'quiet'}`}
      >
        {capitalised(row.caption)}
      </span>
      {row.confidence === null ? (
        <span className="w-8 shrink-0" />
      ) : (
        <ConfidenceBar value={row.confidence} isDoubtful={row.isDoubtful} width={32} />
      )}
    </div>
  );
});

const optionId = (bone: number): string => `bone-${bone}`;

function BoneName({ row, wanted }: { row: LedgerRow; wanted: string }) {
  const at = wanted ? row.name.toLowerCase().indexOf(wanted) : -1;
  return (
    <span className="min-w-0 flex-1 truncate font-mono text-[12.5px]">
      {at >= 0 ? (
        <>
          {row.name.slice(0, at)}
          <mark className="bg-warning/30 text-inherit">{row.name.slice(at, at + wanted.length)}</mark>
          {row.name.slice(at + wanted.length)}
        </>
      ) : (
        <>
          <span className="quiet">{row.name.slice(0, row.prefixLength)}</span>
          {row.name.slice(row.prefixLength)}
        </>
      )}
    </span>
  );
}
