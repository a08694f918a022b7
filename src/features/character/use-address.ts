'use client';

import { usePathname, useSearchParams } from 'next/navigation';
import { useEffect, useMemo, useSyncExternalStore } from 'react';
import { pendingQuery, settleQuery, subscribeToQuery, writeQuery } from './pending-query';

/** What of a page's state the address says, at once after it was chosen. */
export function useAddress(): URLSearchParams {
  const address = useSearchParams();
  const pending = useSyncExternalStore(subscribeToQuery, pendingQuery, () => null);
  const path = usePathname();
  useEffect(() => settleQuery(address.toString()), [address, path]);
  return useMemo(() => new URLSearchParams(pending ?? address.toString()), [address, pending]);
}

/** Puts values into the address; null and false take them out. */
export function writeAddress(patch: Readonly<Record<string, string | number | boolean | null | undefined>>): void {
  const next = new URLSearchParams(pendingQuery() ?? window.location.search);
  for (const [key, value] of Object.entries(patch)) {
    if (value === null || value === undefined || value === false) next.delete(key);
    else next.set(key, String(value));
  }
  writeQuery(next.toString());
}

/** The value that is given, where it is one of those that are known. */
export const oneOf = <Value extends string>(values: readonly Value[], given: string | null, fallback: Value): Value =>
  values.find((value) => value === given) ?? fallback;
