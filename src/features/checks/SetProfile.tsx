'use client';

import { outcomeOf } from '@/contract/client';
import type { CheckRow } from '@/contract/studio';
import { countText } from '@/core/text/count';
import { api } from '@/ui/api';
import { Refusals } from './Refusals';
import { useEach } from './use-each';

interface SetProfileProps {
  readonly profile: { readonly id: string; readonly label: string };
  readonly rows: readonly CheckRow[];
  readonly onDone: () => void;
}

/** Lets all characters that are shown be judged by one engine from now on. */
export function SetProfile({ profile, rows, onDone }: SetProfileProps) {
  const { isBusy, refused, run } = useEach();
  const set = async (): Promise<void> => {
    const isDone = await run(rows, ({ id, name, revision }) =>
      outcomeOf(
        api.POST('/api/characters/{characterId}/fit/changes', {
          params: { path: { characterId: id } },
          body: { baseRevision: revision, action: { kind: 'set-profile', profile: profile.id } },
        }),
        name,
      ),
    );
    if (isDone) onDone();
  };
  return (
    <div className="text-[13px]">
      Checked for {profile.label}, whatever their own engine is.{' '}
      <button className="btn btn-xs" disabled={isBusy} onClick={() => void set()}>
        {isBusy ? 'Setting it …' : `Set it for ${countText(rows.length, 'character')}`}
      </button>
      <Refusals texts={refused} />
    </div>
  );
}
