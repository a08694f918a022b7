'use client';

import { useCallback, useSyncExternalStore } from 'react';

const listeners = new Set<() => void>();
const subscribe = (listener: () => void) => {
  listeners.add(listener);
  return () => { listeners.delete(listener); };
};

/** Whether a note was read in this browser, and the way to say so. Where storage is forbidden it comes back each visit. */
export function useSeen(note: string): readonly [isSeen: boolean, markSeen: () => void] {
  const key = `yarvo-seen-${note}`;
  const read = () => {
    try {
      return window.localStorage.getItem(key) !== null;
    } catch {
      return false;
    }
  };
  const isSeen = useSyncExternalStore(subscribe, read, () => true);
  const markSeen = useCallback(() => {
    try {
      window.localStorage.setItem(key, 'yes');
    } catch {
      return;
    }
    listeners.forEach((listener) => listener());
  }, [key]);
  return [isSeen, markSeen];
}
