import { LoaderCircle, TriangleAlert } from 'lucide-react';
import { isOver, isWorthRetry, type JobKind, type JobView } from '@/contract/jobs';

const WORDS: Record<JobKind, string> = {
  intake: 'Reading and matching',
  pack: 'Writing and reading back',
  rematch: 'Reading again with this version',
};
const MOST_SHOWN = 6;

interface JobListProps {
  readonly jobs: readonly JobView[];
  readonly onCancel: (id: string) => Promise<void>;
  readonly onRetry: (id: string) => Promise<void>;
  readonly onDismiss: (id: string) => void;
}

/** Work in the queue that somebody else started, or that goes on after a reload. */
export function JobList({ jobs, onCancel, onRetry, onDismiss }: JobListProps) {
  if (jobs.length === 0) return null;
  const shown = [...jobs].sort((a, b) => Number(isOver(a)) - Number(isOver(b))).slice(0, MOST_SHOWN);
  return (
    <ul aria-label="Work in the queue" className="mb-4 space-y-1.5">
      {shown.map((job) => (
        <li key={job.id} className="flex items-center gap-3 rounded-box border border-base-300 bg-base-100 px-3 py-1.5">
          {job.state === 'failed' ? (
            <TriangleAlert aria-hidden className="size-4 shrink-0 text-error" />
          ) : (
            <LoaderCircle
              aria-hidden
              className={`size-4 shrink-0 text-primary ${job.state === 'running' ? 'animate-spin' : ''}`}
            />
          )}
          <span className="max-w-72 min-w-0 truncate font-mono text-[13px]">{job.label}</span>
          <span className={`min-w-0 flex-1 text-[13px] ${job.state === 'failed' ? 'text-error' : 'quiet'}`}>
            {stateText(job)}
          </span>
          {job.state === 'failed' ? (
            <>
              {isWorthRetry(job) && (
                <button className="btn btn-ghost btn-xs" onClick={() => void onRetry(job.id)}>
                  Try again
                </button>
              )}
              <button className="btn btn-ghost btn-xs" onClick={() => onDismiss(job.id)}>
                Close
              </button>
            </>
          ) : (
            <button className="btn btn-ghost btn-xs" onClick={() => void onCancel(job.id)}>
              Cancel
            </button>
          )}
        </li>
      ))}
      {jobs.length > shown.length && <li className="quiet px-3 text-[13px]">and {jobs.length - shown.length} more</li>}
    </ul>
  );
}

function stateText({ state, kind, stage, author, problem }: JobView): string {
  if (state === 'failed') return `${problem?.message ?? 'It failed.'} ${problem?.remedy ?? ''}`;
  const by = author === 'Yarvo' ? '' : `, for ${author}`;
  return state === 'queued' ? `Waiting${by}` : `${WORDS[kind]}${stage && ` ${stage}`}${by}`;
}
