'use client';

import { useId, useState } from 'react';

interface WaiveFieldsProps {
  /** Names the form. */
  readonly label: string;
  readonly submit: string;
  readonly isBusy?: boolean;
  readonly onWaive: (reason: string, until: string | undefined) => void;
  readonly onCancel: () => void;
}

/** Why something is accepted, and until when. */
export function WaiveFields({ label, submit, isBusy = false, onWaive, onCancel }: WaiveFieldsProps) {
  const [reason, setReason] = useState('');
  const [until, setUntil] = useState('');
  const id = useId();
  return (
    <form
      aria-label={label}
      className="mt-2 flex flex-wrap items-end gap-2 text-[13px]"
      onSubmit={(event) => {
        event.preventDefault();
        onWaive(reason.trim(), until || undefined);
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
      <button className="btn btn-primary btn-sm" disabled={isBusy || reason.trim().length < 3}>
        {submit}
      </button>
      <button type="button" className="btn btn-ghost btn-sm" onClick={onCancel}>
        Cancel
      </button>
    </form>
  );
}
