'use client';

import { useState } from 'react';
import { outcomeOf } from '@/contract/client';
import type { CheckRow } from '@/contract/studio';
import { countText } from '@/core/text/count';
import { api } from '@/ui/api';

interface SetProfileProps {
  readonly profile: { readonly id: string; readonly label: string };
  readonly rows: readonly CheckRow[];
  readonly onDone: () => void;
}

/** Lets all characters that are shown be judged by one engine from now on. */
export function SetProfile({ profile, rows, onDone }: SetProfileProps) {
  const [isBusy, setBusy] = useState(false);
  const [refused, setRefused] = useState<readonly string[]>([]);
  const set = async (): Promise<void> => {
    setBusy(true);
    const failed: string[] = [];
    for (const { id, name, revision } of rows) {
      const outcome = await outcomeOf(
        api.POST('/api/characters/{characterId}/fit/changes', {
          params: { path: { characterId: id } },
          body: { baseRevision: revision, action: { kind: 'set-profile', profile: profile.id } },
        }),
        name,
      );
      if (!outcome.ok && !ALREADY.test(outcome.problem.message)) failed.push(`${name}: ${outcome.problem.message}`);
    }
    setBusy(false);
    setRefused(failed);
    if (failed.length === 0) onDone();
  };
  return (
    <div className="text-[13px]">
      Checked for {profile.label}, whatever their own engine is.{' '}
      <button className="btn btn-xs" disabled={isBusy} onClick={() => void set()}>
        {isBusy ? 'Setting it …' : `Set it for ${countText(rows.length, 'character')}`}
      </button>
      {refused.length > 0 && (
        <ul role="alert" className="mt-1 list-disc pl-5 text-error">
          {refused.map((text) => (
            <li key={text}>{text}</li>
          ))}
        </ul>
      )}
    </div>
  );
}

/** Who has it already needs no change. */
const ALREADY = /already/i;
