'use client';

import { useId, useState } from 'react';
import type { Finding } from '@/core/checks/finding';
import { useCharacter } from '../character/character-context';

/** Accepts a finding with a reason; in the name of who works here, by the day. */
export function WaiveForm({ finding, onClose }: { readonly finding: Finding; readonly onClose: () => void }) {
  const { waive } = useCharacter();
  const [reason, setReason] = useState('');
  const [until, setUntil] = useState('');
  const id = useId();
  return (
    <form
      aria-label="Waive this finding"
      className="mt-2 flex flex-wrap items-end gap-2 text-[13px]"
      onSubmit={(event) => {
        event.preventDefault();
        waive({ finding: finding.key }, reason.trim(), until || undefined);
        onClose();
      }}
    >
      <label htmlFor={`${id} reason`} className="flex min-w-60 flex-1 flex-col gap-0.5">
        Why it is accepted
        <input
          id={`${id} reason`}
          className="input w-full input-sm"
          value={reason}
          minLength={3}
          maxLength={2000}
          required
          autoFocus
          onChange={(event) => setReason(event.target.value)}
        />
      </label>
      <label htmlFor={`${id} until`} className="flex flex-col gap-0.5">
        Until (open end if empty)
        <input
          id={`${id} until`}
          type="date"
          className="input input-sm"
          value={until}
          onChange={(event) => setUntil(event.target.value)}
        />
      </label>
      <button className="btn btn-primary btn-sm" disabled={reason.trim().length < 3}>
        Waive
      </button>
      <button type="button" className="btn btn-ghost btn-sm" onClick={onClose}>
        Cancel
      </button>
    </form>
  );
}
