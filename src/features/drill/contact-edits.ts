import type { Contact, ContactPart } from '@/core/motion/motion';

export interface Span {
  readonly from: number;
  readonly to: number;
  /** Of the floor, as the contact has it. */
  readonly height?: number;
}

/** Contacts with one span of a part changed: null adds one, or takes it away. Spans that come to touch become one. */
export function withSpan(
  contacts: readonly Contact[],
  part: ContactPart,
  before: Span | null,
  after: Span | null,
): Contact[] {
  const others = contacts.filter((contact) => contact.part !== part);
  const own: Span[] = contacts.filter(
    (contact) => contact.part === part && !(before && contact.from === before.from && contact.to === before.to),
  );
  if (after) own.push(after);
  const merged: Span[] = [];
  for (const span of own.sort((a, b) => a.from - b.from)) {
    const last = merged[merged.length - 1];
    if (last && span.from <= last.to + 1) merged[merged.length - 1] = { ...last, to: Math.max(last.to, span.to) };
    else merged.push(span);
  }
  return [...others, ...merged.map((span) => ({ ...span, part }))];
}

/** A drag on a lane: what was taken hold of, and from where. */
export type SpanDrag =
  { readonly kind: 'new'; readonly start: number } | { readonly kind: 'from' | 'to'; readonly span: Span };

/** What is under a frame of a lane: an end of a span within `slack` frames, the inside of one, or nothing. */
export function hitSpan(
  spans: readonly Span[],
  frame: number,
  slack: number,
): SpanDrag | { readonly kind: 'inside'; readonly span: Span } {
  for (const span of spans) {
    if (Math.abs(frame - span.from) <= slack) return { kind: 'from', span };
    if (Math.abs(frame - span.to) <= slack) return { kind: 'to', span };
  }
  const inside = spans.find(({ from, to }) => frame > from && frame < to);
  return inside ? { kind: 'inside', span: inside } : { kind: 'new', start: Math.round(frame) };
}

/** The span that a drag comes to when the pointer is at a frame. */
export function draggedSpan(drag: SpanDrag, frame: number, last: number): Span {
  const at = Math.max(0, Math.min(last, Math.round(frame)));
  if (drag.kind === 'new') return { from: Math.min(drag.start, at), to: Math.max(drag.start, at) };
  const { span } = drag;
  return drag.kind === 'from' ? { ...span, from: Math.min(at, span.to) } : { ...span, to: Math.max(at, span.from) };
}
