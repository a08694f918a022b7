'use client';

import { useEffect, useRef } from 'react';

/** Whether a key belongs to a field or list that somebody is filling in. */
export const isTyping = (event: KeyboardEvent): boolean =>
  /INPUT|TEXTAREA|SELECT/.test((event.target as HTMLElement).tagName);

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
