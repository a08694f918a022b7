'use client';

import { useState } from 'react';
import type { JoinProposal } from '@/contract/character-view';
import type { Problem } from '@/core/errors/yarvo-error';
import { ProblemNote } from '@/ui/ProblemNote';

/** Files of one drop that look like one character: proposed, never joined by themselves. */
export function JoinList({
  joins,
  onJoin,
  onDismiss,
}: {
  joins: readonly JoinProposal[];
  onJoin: (join: JoinProposal) => Promise<Problem | null>;
  onDismiss: (bodyId: string) => void;
}) {
  if (joins.length === 0) return null;
  return (
    <ul aria-label="Files that look like one character" className="mb-4 space-y-1.5">
      {joins.map((join) => (
        <Proposal key={join.bodyId} join={join} onJoin={onJoin} onDismiss={onDismiss} />
      ))}
    </ul>
  );
}

function Proposal({
  join,
  onJoin,
  onDismiss,
}: {
  join: JoinProposal;
  onJoin: (join: JoinProposal) => Promise<Problem | null>;
  onDismiss: (bodyId: string) => void;
}) {
  const [problem, setProblem] = useState<Problem | null>(null);
  const [isBusy, setBusy] = useState(false);
  return (
    <li className="rounded-box border border-primary bg-base-100 px-3 py-2">
      <div className="flex items-center gap-3">
        <p className="min-w-0 flex-1">
          {join.parts.map((part) => (
            <span key={part.id}>
              <span className="font-semibold">{part.name}</span> stands on the bones of{' '}
              <span className="font-semibold">{join.bodyName}</span> ({part.shared} of {part.total}).{' '}
            </span>
          ))}
        </p>
        <button
          className="btn btn-primary btn-sm"
          disabled={isBusy}
          onClick={async () => {
            setBusy(true);
            setProblem(await onJoin(join));
            setBusy(false);
          }}
        >
          {isBusy ? 'Joining …' : 'Join as one character'}
        </button>
        <button className="btn btn-ghost btn-sm" onClick={() => onDismiss(join.bodyId)}>
          Keep apart
        </button>
      </div>
      {problem && (
        <div className="mt-2">
          <ProblemNote problem={problem} onClose={() => setProblem(null)} />
        </div>
      )}
    </li>
  );
}
