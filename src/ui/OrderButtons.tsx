import { ChevronDown, ChevronUp, X } from 'lucide-react';

interface OrderButtonsProps {
  /** What the row is, as a person calls it. */
  readonly name: string;
  /** What is removed, where that is another name. */
  readonly removes?: string;
  readonly isFirst: boolean;
  readonly isLast: boolean;
  readonly onMove: (by: -1 | 1) => void;
  readonly onRemove: () => void;
}

/** Ends of a row of an ordered list: earlier, later, away. */
export function OrderButtons({ name, removes = name, isFirst, isLast, onMove, onRemove }: OrderButtonsProps) {
  return (
    <>
      <button
        className="btn btn-square btn-ghost btn-xs"
        aria-label={`${name} earlier`}
        disabled={isFirst}
        onClick={() => onMove(-1)}
      >
        <ChevronUp aria-hidden className="size-3.5" />
      </button>
      <button
        className="btn btn-square btn-ghost btn-xs"
        aria-label={`${name} later`}
        disabled={isLast}
        onClick={() => onMove(1)}
      >
        <ChevronDown aria-hidden className="size-3.5" />
      </button>
      <button className="btn btn-square btn-ghost btn-xs" aria-label={`Remove ${removes}`} onClick={onRemove}>
        <X aria-hidden className="size-3.5" />
      </button>
    </>
  );
}

/** The list with one of its items in another place. */
export function movedTo<Item>(list: readonly Item[], from: number, to: number): Item[] {
  const next = [...list];
  next.splice(to, 0, ...next.splice(from, 1));
  return next;
}
