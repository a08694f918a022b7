'use client';

import { useEffect, useRef } from 'react';

/** Whether a key belongs to a field or list that somebody is filling in; a box that is ticked takes none but the space bar. */
export const isTyping = (event: KeyboardEvent): boolean => {
  const target = event.target as HTMLElement;
  if (target instanceof HTMLInputElement && target.type === 'checkbox') return event.key === ' ';
  // A slider takes what moves it, and nothing else.
  if (target instanceof HTMLInputElement && target.type === 'range') return /^(Arrow|Home|End|Page)/.test(event.key);
  return /INPUT|TEXTAREA|SELECT/.test(target.tagName);
};

/** A key by itself: not while somebody types, and not with Ctrl or Alt, which mean something else. */
export const isPlainKey = (event: KeyboardEvent): boolean =>
  !event.ctrlKey && !event.metaKey && !event.altKey && !isTyping(event);

/** Hears every key of the page; with `isFirst` before anything that has the focus. */
export function useKeyDown(onKey: (event: KeyboardEvent) => void, isFirst = false): void {
  const latest = useRef(onKey);
  useEffect(() => {
    latest.current = onKey;
  }, [onKey]);
  useEffect(() => {
    const listen = (event: KeyboardEvent) => latest.current(event);
    window.addEventListener('keydown', listen, isFirst);
    return () => window.removeEventListener('keydown', listen, isFirst);
  }, [isFirst]);
}
