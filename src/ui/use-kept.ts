'use client';

import { useCallback, useSyncExternalStore } from 'react';

const listeners = new Set<() => void>();
const subscribe = (listener: () => void) => {
  listeners.add(listener);
  return () => {
    listeners.delete(listener);
  };
};

/**
 * A text kept in this browser, null while there is none. On the server, and where storage is forbidden, it is `meanwhile`.
 * @param meanwhile what stands in until the browser can be asked.
 */
function useKept(
  key: string,
  meanwhile: string | null,
): readonly [value: string | null, keep: (value: string) => void] {
  const read = () => {
    try {
      return window.localStorage.getItem(key);
    } catch {
      return null;
    }
  };
  const value = useSyncExternalStore(subscribe, read, () => meanwhile);
  const keep = useCallback(
    (next: string) => {
      try {
        window.localStorage.setItem(key, next);
      } catch {
        return;
      }
      listeners.forEach((listener) => listener());
    },
    [key],
  );
  return [value, keep];
}

/** One of a few numbers, kept in this browser; what is kept and not among them counts as `usual`. */
export function useKeptNumber(
  key: string,
  choices: readonly number[],
  usual: number,
): readonly [value: number, keep: (value: number) => void] {
  const [kept, keep] = useKept(key, null);
  const value = choices.find((choice) => String(choice) === kept) ?? usual;
  return [value, useCallback((next: number) => keep(String(next)), [keep])];
}

/** Whether a note was read in this browser, and the way to say so. Where storage is forbidden it comes back each visit. */
export function useSeen(note: string): readonly [isSeen: boolean, markSeen: () => void] {
  const [seen, keep] = useKept(`yarvo-seen-${note}`, 'yes');
  return [seen !== null, useCallback(() => keep('yes'), [keep])];
}
