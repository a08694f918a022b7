import { TriangleAlert } from 'lucide-react';
import type { Problem } from '@/core/errors/yarvo-error';

/** How every error is shown: what, where, what to do next. */
export function ProblemNote({ problem, onClose }: { problem: Problem; onClose?: () => void }) {
  return (
    <div role="alert" className="flex gap-3 rounded-box border border-error/50 bg-base-100 p-3">
      <TriangleAlert aria-hidden className="mt-0.5 size-4 shrink-0 text-error" />
      <div className="min-w-0 flex-1">
        <p className="font-medium break-words">{problem.message}</p>
        <p className="quiet mt-0.5 text-[13px] break-words">
          <span className="font-mono text-xs">{problem.place}</span> · {problem.remedy}
          {problem.requestId && (
            <span className="whitespace-nowrap">
              {' '}
              · id <span className="font-mono text-xs select-all">{problem.requestId}</span>
            </span>
          )}
        </p>
      </div>
      {onClose && (
        <button className="btn btn-ghost btn-xs" onClick={onClose}>
          Close
        </button>
      )}
    </div>
  );
}
