'use client';

import { useEffect, useRef, useState, type PointerEvent as ReactPointerEvent } from 'react';
import { CONTACT_PARTS, type Contact, type ContactPart } from '@/core/motion/motion';
import { NumberField } from '@/ui/NumberField';
import { draggedSpan, hitSpan, withSpan, type Span, type SpanDrag } from './contact-edits';
import type { PlayerHandle } from './use-player';

const PART_TEXT: Readonly<Record<ContactPart, string>> = {
  leftFoot: 'Left foot',
  rightFoot: 'Right foot',
  leftHand: 'Left hand',
  rightHand: 'Right hand',
};
const TINT: Readonly<Record<ContactPart, string>> = {
  leftFoot: 'bg-(--tint-left)',
  leftHand: 'bg-(--tint-left)',
  rightFoot: 'bg-(--tint-right)',
  rightHand: 'bg-(--tint-right)',
};
/** How near to an end a pointer takes hold of it, pixels. */
const HOLD_PIXELS = 6;

interface ContactLanesProps {
  readonly handle: PlayerHandle;
  readonly frameCount: number;
  readonly contacts: readonly Contact[];
  /** Null where they cannot be changed. */
  readonly onChange: ((contacts: readonly Contact[] | null) => void) | null;
  readonly isEdited: boolean;
}

/** When feet and hands touch, under the motion's time. Ends are dragged; a drag where nothing is adds a span. */
export function ContactLanes({ handle, frameCount, contacts, onChange, isEdited }: ContactLanesProps) {
  const { onFrame, player } = handle;
  const head = useRef<HTMLDivElement>(null);
  const [shown, setShown] = useState<readonly Contact[] | null>(null);
  const [picked, setPicked] = useState<{ readonly part: ContactPart; readonly from: number } | null>(null);
  const last = Math.max(1, frameCount - 1);
  useEffect(
    () =>
      onFrame(({ frame }) => {
        if (head.current) head.current.style.left = `${(frame / last) * 100}%`;
      }),
    [onFrame, last],
  );
  const list = shown ?? contacts;
  const parts = CONTACT_PARTS.filter((part) => part.endsWith('Foot') || list.some((contact) => contact.part === part));
  return (
    <section aria-label="Contacts" className="shrink-0 border-t border-base-300 bg-base-100 px-3 py-1.5 text-[13px]">
      <div className="flex items-baseline gap-3">
        <h2 className="font-semibold">Contacts</h2>
        <p className="quiet">
          {isEdited ? 'set by hand' : 'found on the source'}
          {onChange &&
            '; drag an end, drag where nothing is to add one, click one for its floor, double-click to take it away'}
        </p>
        {isEdited && onChange && (
          <button className="btn ml-auto btn-ghost btn-xs" onClick={() => onChange(null)}>
            Find them again
          </button>
        )}
      </div>
      <div className="relative mt-1">
        {parts.map((part) => (
          <Lane
            key={part}
            part={part}
            spans={list.filter((contact) => contact.part === part)}
            last={last}
            isFixed={onChange === null}
            picked={picked?.part === part ? picked.from : null}
            onPick={(span) => setPicked(span && { part, from: span.from })}
            onSeek={(frame) => {
              player?.pause();
              player?.seek(frame);
            }}
            onDrag={(before, after) => setShown(after && withSpan(contacts, part, before, after))}
            onDrop={(before, after) => {
              setShown(null);
              onChange?.(withSpan(contacts, part, before, after));
            }}
          />
        ))}
        <div className="pointer-events-none absolute inset-y-0 right-60 left-28">
          <div ref={head} className="absolute inset-y-0 w-0.5 -translate-x-1/2 bg-primary" />
        </div>
      </div>
    </section>
  );
}

interface LaneProps {
  readonly part: ContactPart;
  readonly spans: readonly Span[];
  readonly last: number;
  readonly isFixed: boolean;
  /** First frame of the span whose floor is shown. */
  readonly picked: number | null;
  readonly onPick: (span: Span | null) => void;
  readonly onSeek: (frame: number) => void;
  /** While it goes on; null for nothing. */
  readonly onDrag: (before: Span | null, after: Span | null) => void;
  readonly onDrop: (before: Span | null, after: Span | null) => void;
}

function Lane({ part, spans, last, isFixed, picked, onPick, onSeek, onDrag, onDrop }: LaneProps) {
  const shown = spans.find(({ from }) => from === picked) ?? null;
  const drag = useRef<{ readonly drag: SpanDrag; readonly startX: number; hasMoved: boolean } | null>(null);
  const frameAt = (event: { clientX: number; currentTarget: Element }) => {
    const { left, width } = event.currentTarget.getBoundingClientRect();
    return { frame: ((event.clientX - left) / width) * last, slack: (HOLD_PIXELS / width) * last };
  };
  const onDown = (event: ReactPointerEvent<HTMLDivElement>) => {
    const { frame, slack } = frameAt(event);
    const hit = hitSpan(spans, frame, slack);
    onPick('span' in hit ? hit.span : null);
    if (isFixed || hit.kind === 'inside') return onSeek(frame);
    event.currentTarget.setPointerCapture(event.pointerId);
    drag.current = { drag: hit, startX: event.clientX, hasMoved: false };
  };
  const onMove = (event: ReactPointerEvent<HTMLDivElement>) => {
    const { current } = drag;
    if (!current) return;
    current.hasMoved ||= Math.abs(event.clientX - current.startX) > 3;
    if (current.hasMoved) onDrag(beforeOf(current.drag), draggedSpan(current.drag, frameAt(event).frame, last));
  };
  const onUp = (event: ReactPointerEvent<HTMLDivElement>) => {
    const { current } = drag;
    drag.current = null;
    if (!current) return;
    const { frame } = frameAt(event);
    if (current.hasMoved) onDrop(beforeOf(current.drag), draggedSpan(current.drag, frame, last));
    else onSeek(frame);
  };
  return (
    <div className="flex h-5 items-center">
      <span className="w-28 shrink-0">{PART_TEXT[part]}</span>
      <div
        role="img"
        aria-label={`${PART_TEXT[part]}: ${spans.length === 0 ? 'no contact' : spans.map(({ from, to }) => `${from} to ${to}`).join(', ')}`}
        className="relative h-4 flex-1 touch-none rounded-sm bg-base-200"
        onPointerDown={onDown}
        onPointerMove={onMove}
        onPointerUp={onUp}
        onPointerCancel={() => {
          drag.current = null;
          onDrag(null, null);
        }}
        onDoubleClick={(event) => {
          const { frame, slack } = frameAt(event);
          const hit = hitSpan(spans, frame, slack);
          if (!isFixed && 'span' in hit) onDrop(hit.span, null);
        }}
      >
        {spans.map(({ from, to }) => (
          <span
            key={`${from}-${to}`}
            className={`absolute inset-y-1 rounded-sm ${TINT[part]} ${isFixed ? '' : 'cursor-ew-resize'} ${from === picked ? 'outline-2 outline-primary' : ''}`}
            style={{ left: `${(from / last) * 100}%`, width: `${Math.max(0.3, ((to - from) / last) * 100)}%` }}
          />
        ))}
      </div>
      <div className="flex w-60 shrink-0 items-center gap-1 pl-3">
        {shown && (
          <FloorOf
            part={part}
            span={shown}
            onChange={isFixed ? null : (height) => onDrop(shown, { ...shown, height })}
          />
        )}
      </div>
    </div>
  );
}

interface FloorOfProps {
  readonly part: ContactPart;
  readonly span: Span;
  readonly onChange: ((legs: number) => void) | null;
}

/** How high the floor is under one contact, in % of the source's leg: a stair, a rail, a slope. */
function FloorOf({ part, span: { from, height = 0 }, onChange }: FloorOfProps) {
  const percent = Number((height * 100).toFixed(1));
  return (
    <label className="flex items-center gap-1 text-xs">
      Floor at
      {onChange ? (
        <NumberField
          label={`${PART_TEXT[part]} from ${from}, floor, % of the leg`}
          className="w-16"
          min={-300}
          max={300}
          step={1}
          value={percent}
          onChange={(next) => onChange(next / 100)}
        />
      ) : (
        <span className="font-mono">{percent}</span>
      )}
      % of the leg
    </label>
  );
}

const beforeOf = (drag: SpanDrag): Span | null => (drag.kind === 'new' ? null : drag.span);
