'use client';

import { useEffect } from 'react';
import { useAddress, writeAddress } from '../character/use-address';

/** What of the address belongs to the Drill, and comes back with it. */
const OWN = [
  'motion',
  'set',
  'frame',
  'source',
  'gap',
  'others',
  'follow',
  'speed',
  'loop',
  'range',
  'view',
  'mesh',
] as const;

const last = new Map<string, Record<string, string>>();

/** Brings back what was played, where and how, when a person comes back to the Drill of a character by its tab. */
export function useLastDrill(characterId: string): void {
  const params = useAddress();
  useEffect(() => {
    const before = last.get(characterId);
    const isNamed = new URLSearchParams(window.location.search).has('motion');
    if (before && !isNamed) writeAddress(before);
  }, [characterId]);
  useEffect(() => {
    const now = Object.fromEntries(OWN.flatMap((key) => (params.has(key) ? [[key, params.get(key) as string]] : [])));
    if (now.motion !== undefined) last.set(characterId, now);
  }, [params, characterId]);
}
