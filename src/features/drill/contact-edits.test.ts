import { describe, expect, it } from 'vitest';
import type { Contact } from '@/core/motion/motion';
import { draggedSpan, hitSpan, withSpan } from './contact-edits';

const CONTACTS: readonly Contact[] = [
  { part: 'leftFoot', from: 0, to: 10 },
  { part: 'leftFoot', from: 30, to: 40 },
  { part: 'rightFoot', from: 12, to: 28 },
];

describe('contacts set by hand', () => {
  it('are added, moved and taken away without touching those of other parts', () => {
    expect(withSpan(CONTACTS, 'leftFoot', null, { from: 15, to: 20 })).toContainEqual({
      part: 'leftFoot',
      from: 15,
      to: 20,
    });
    const moved = withSpan(CONTACTS, 'leftFoot', { from: 30, to: 40 }, { from: 26, to: 40 });
    expect(moved.filter(({ part }) => part === 'leftFoot')).toEqual([
      { part: 'leftFoot', from: 0, to: 10 },
      { part: 'leftFoot', from: 26, to: 40 },
    ]);
    const fewer = withSpan(CONTACTS, 'leftFoot', { from: 0, to: 10 }, null);
    expect(fewer).toHaveLength(2);
    expect(fewer).toContainEqual(CONTACTS[2]);
  });

  it('that come to touch become one', () => {
    expect(
      withSpan(CONTACTS, 'leftFoot', { from: 0, to: 10 }, { from: 0, to: 29 }).filter(
        ({ part }) => part === 'leftFoot',
      ),
    ).toEqual([{ part: 'leftFoot', from: 0, to: 40 }]);
  });

  it('are taken hold of at their ends', () => {
    const spans = [{ from: 10, to: 20 }];
    expect(hitSpan(spans, 10.8, 1)).toMatchObject({ kind: 'from' });
    expect(hitSpan(spans, 19.5, 1)).toMatchObject({ kind: 'to' });
    expect(hitSpan(spans, 15, 1)).toMatchObject({ kind: 'inside' });
    expect(hitSpan(spans, 30.4, 1)).toEqual({ kind: 'new', start: 30 });
  });

  it('stay within the motion, and never end before they start', () => {
    const span = { from: 10, to: 20 };
    expect(draggedSpan({ kind: 'from', span }, 33, 50)).toEqual({ from: 20, to: 20 });
    expect(draggedSpan({ kind: 'to', span }, 90, 50)).toEqual({ from: 10, to: 50 });
    expect(draggedSpan({ kind: 'new', start: 12 }, -4, 50)).toEqual({ from: 0, to: 12 });
  });
});
