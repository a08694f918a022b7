import { useState } from 'react';
import type { Outcome } from '@/contract/client';
import type { CheckRow } from '@/contract/studio';

interface Each {
  readonly isBusy: boolean;
  /** What was refused at the last run, by the character's name. */
  readonly refused: readonly string[];
  /** Calls for one character after another; true where none was refused. */
  readonly run: (rows: readonly CheckRow[], call: (row: CheckRow) => Promise<Outcome<unknown>>) => Promise<boolean>;
}

/** The same change on many characters; one that has nothing to change counts as done. */
export function useEach(): Each {
  const [isBusy, setBusy] = useState(false);
  const [refused, setRefused] = useState<readonly string[]>([]);
  const run: Each['run'] = async (rows, call) => {
    setBusy(true);
    const failed: string[] = [];
    for (const row of rows) {
      const outcome = await call(row);
      if (!outcome.ok && outcome.problem.code !== 'nothing-to-do')
        failed.push(`${row.name}: ${outcome.problem.message}`);
    }
    setBusy(false);
    setRefused(failed);
    return failed.length === 0;
  };
  return { isBusy, refused, run };
}
