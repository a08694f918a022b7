import { LoaderCircle, TriangleAlert } from 'lucide-react';
import { isOver, isWorthRetry, type JobKind, type JobView } from '@/contract/jobs';

const WORDS: Record<JobKind, string> = {
  intake: 'Reading and matching',
  pack: 'Writing and reading back',
  rematch: 'Reading again with this version',
  carry: 'Carrying motions over',
  'motion-out': 'Writing motions out',
};

interface JobListProps {
  readonly jobs: readonly JobView[];
  readonly onCancel: (id: string) => Promise<void>;
  readonly onRetry: (id: string) => Promise<void>;
  readonly onDismiss: (id: string) => void;
}

/**
 * Work in the queue that somebody else started, or that goes on after a reload: one line, so that the rows below stay
 * where they are, and all of it when that is opened.
 */
export function JobList({ jobs, ...handlers }: JobListProps) {
  if (jobs.length === 0) return null;
  const failed = jobs.filter(({ state }) => state === 'failed');
  const open = jobs.filter((job) => !isOver(job)).sort(inOrder);
  const [first] = [...open, ...failed];
  return (
    <details className="group mb-4 rounded-box border border-base-300 bg-base-100">
      <summary className="flex cursor-pointer items-center gap-3 px-3 py-1.5">
        <StateIcon job={first} />
        <span className="font-semibold">{headingOf(open.length, failed.length)}</span>
        <span className="max-w-72 min-w-0 truncate font-mono text-[13px]">{first.label}</span>
        <span className="quiet min-w-0 flex-1 truncate text-[13px]">{stateText(first)}</span>
        <span className="link text-[13px] link-hover group-open:hidden">Show</span>
        <span className="hidden link text-[13px] link-hover group-open:inline">Hide</span>
      </summary>
      <ul
        aria-label="Work in the queue"
        className="max-h-64 divide-y divide-base-300 overflow-auto border-t border-base-300"
      >
        {[...failed, ...open].map((job) => (
          <JobItem key={job.id} job={job} {...handlers} />
        ))}
      </ul>
    </details>
  );
}

/** What runs first, then what waits in the order it came. */
const inOrder = (a: JobView, b: JobView): number =>
  Number(b.state === 'running') - Number(a.state === 'running') || (a.createdAt < b.createdAt ? -1 : 1);

function headingOf(open: number, failed: number): string {
  const parts = [...(open > 0 ? [`${open} in the queue`] : []), ...(failed > 0 ? [`${failed} failed`] : [])];
  return parts.join(', ');
}

function StateIcon({ job }: { job: JobView }) {
  if (job.state === 'failed') return <TriangleAlert aria-hidden className="size-4 shrink-0 text-error" />;
  const spin = job.state === 'running' ? 'animate-spin' : '';
  return <LoaderCircle aria-hidden className={`size-4 shrink-0 text-primary ${spin}`} />;
}

function JobItem({ job, onCancel, onRetry, onDismiss }: Omit<JobListProps, 'jobs'> & { readonly job: JobView }) {
  const isFailed = job.state === 'failed';
  return (
    <li className="flex items-center gap-3 px-3 py-1">
      <StateIcon job={job} />
      <span className="max-w-72 min-w-0 truncate font-mono text-[13px]">{job.label}</span>
      <span className={`min-w-0 flex-1 text-[13px] ${isFailed ? 'text-error' : 'quiet'}`}>{stateText(job)}</span>
      {isFailed && isWorthRetry(job) && (
        <button className="btn btn-ghost btn-xs" onClick={() => void onRetry(job.id)}>
          Try again
        </button>
      )}
      {isFailed ? (
        <button className="btn btn-ghost btn-xs" onClick={() => onDismiss(job.id)}>
          Close
        </button>
      ) : (
        <button className="btn btn-ghost btn-xs" onClick={() => void onCancel(job.id)}>
          Cancel
        </button>
      )}
    </li>
  );
}

function stateText({ state, kind, stage, author, problem }: JobView): string {
  if (state === 'failed') return `${problem?.message ?? 'It failed.'} ${problem?.remedy ?? ''}`;
  const by = author === 'Yarvo' ? '' : `, for ${author}`;
  return state === 'queued' ? `Waiting${by}` : `${WORDS[kind]}${stage && ` ${stage}`}${by}`;
}
