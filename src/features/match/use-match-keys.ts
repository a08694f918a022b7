'use client';

import { isPlainKey, useKeyDown } from '@/ui/use-key-down';

/** Single keys of the Match screen. */
export function useMatchKeys(
  keys: Readonly<Record<'accept' | 'clear' | 'nextDoubt' | 'leave' | 'runDoubts' | 'runAll' | 'explain', () => void>>,
): void {
  useKeyDown((event) => {
    const action =
      isPlainKey(event) &&
      {
        a: keys.accept,
        n: keys.nextDoubt,
        r: keys.runDoubts,
        R: keys.runAll,
        e: keys.explain,
        Delete: keys.clear,
        Escape: keys.leave,
      }[event.key];
    if (!action) return;
    event.preventDefault();
    action();
  });
}
