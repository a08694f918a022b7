'use client';

import { useEffect } from 'react';

/** Single keys of the Match screen; not while somebody types, and not with Ctrl or Alt. */
export function useMatchKeys(keys: Readonly<Record<'accept' | 'clear' | 'nextDoubt' | 'leave' | 'runDoubts' | 'runAll' | 'explain', () => void>>): void {
  useEffect(() => {
    const onKey = (event: KeyboardEvent) => {
      const target = event.target as HTMLElement;
      if (event.ctrlKey || event.metaKey || event.altKey || /INPUT|TEXTAREA|SELECT/.test(target.tagName)) return;
      const action = { a: keys.accept, n: keys.nextDoubt, r: keys.runDoubts, R: keys.runAll, e: keys.explain, Delete: keys.clear, Escape: keys.leave }[event.key];
      if (!action) return;
      event.preventDefault();
      action();
    };
    window.addEventListener('keydown', onKey);
    return () => window.removeEventListener('keydown', onKey);
  }, [keys]);
}
