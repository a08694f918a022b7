import { useCallback, useEffect, useState } from 'react';
import type { CheckRow } from '@/contract/studio';
import { selectionQuery } from '@/ui/selection';

export interface ChecksState {
  readonly rows: readonly CheckRow[];
  readonly isRunning: boolean;
  readonly hasFailed: boolean;
  /** Checks some characters again, or all. */
  readonly again: () => void;
}

/** Checks characters on the server; rows come in one after another. */
export function useChecks(ids: readonly string[], profile: string | null): ChecksState {
  const [rows, setRows] = useState<readonly CheckRow[]>([]);
  const [state, setState] = useState<'running' | 'done' | 'failed'>('running');
  const [round, setRound] = useState(0);
  const wanted = ids.join(',');
  useEffect(() => {
    const leaving = new AbortController();
    const read = async (): Promise<void> => {
      setState('running');
      setRows([]);
      if (wanted === '') return setState('done');
      const selection = await selectionQuery(wanted.split(','));
      if (!selection.ok) return setState('failed');
      const query = profile === null ? selection.data : `${selection.data}&profile=${encodeURIComponent(profile)}`;
      const response = await fetch(`/api/checks?${query}`, { signal: leaving.signal });
      if (!response.ok || !response.body) return setState('failed');
      const reader = response.body.pipeThrough(new TextDecoderStream()).getReader();
      let held = '';
      for (let part = await reader.read(); !part.done; part = await reader.read()) {
        const lines = (held + part.value).split('\n');
        held = lines.pop() ?? '';
        const found = lines.filter(Boolean).map((line) => JSON.parse(line) as CheckRow);
        if (found.length > 0) setRows((known) => [...known, ...found]);
      }
      setState('done');
    };
    read().catch(() => !leaving.signal.aborted && setState('failed'));
    return () => leaving.abort();
  }, [wanted, profile, round]);
  const again = useCallback(() => setRound((before) => before + 1), []);
  return { rows, isRunning: state === 'running', hasFailed: state === 'failed', again };
}
