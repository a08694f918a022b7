import { isOver, type JobView } from '@/contract/jobs';
import type { CarriedBoard, WrittenOut } from '@/contract/board';
import { jobProblem } from '@/ui/jobs/job-problem';

interface BoardJobsProps {
  readonly jobs: readonly JobView[];
  readonly onCancel: (id: string) => Promise<void>;
  readonly onDismiss: (id: string) => void;
}

/** Carrying and writing that is under way or was over since the page was opened, newest first. */
export function BoardJobs({ jobs, onCancel, onDismiss }: BoardJobsProps) {
  if (jobs.length === 0) return null;
  return (
    <ul aria-label="Work on the board" className="grid shrink-0 gap-1.5">
      {jobs.slice(0, 4).map((job) => (
        <li
          key={job.id}
          className="flex items-center gap-3 rounded-box border border-base-300 bg-base-100 px-3 py-1.5 text-[13px]"
        >
          <span className="font-semibold">{job.kind === 'carry' ? 'Carrying over' : 'Writing out'}</span>
          <span>{job.label}</span>
          {isOver(job) ? (
            <Ended job={job} />
          ) : (
            <>
              <progress className="progress w-40 progress-primary" value={job.progress} max={1} aria-label="Progress" />
              <span className="quiet min-w-0 flex-1 truncate">{job.stage || 'waits in the queue'}</span>
            </>
          )}
          <button
            className="btn ml-auto btn-ghost btn-xs"
            onClick={() => (isOver(job) ? onDismiss(job.id) : void onCancel(job.id))}
          >
            {isOver(job) ? 'Close' : 'Cancel'}
          </button>
        </li>
      ))}
    </ul>
  );
}

function Ended({ job }: { readonly job: JobView }) {
  const problem = jobProblem(job);
  if (job.state === 'cancelled') return <span className="quiet">cancelled; what was done by then is kept</span>;
  if (problem)
    return (
      <span className="text-error">
        {problem.message} <span className="text-base-content">{problem.remedy}</span>
      </span>
    );
  if (job.kind === 'carry') {
    const { cells, failed, gone } = job.result as CarriedBoard;
    return (
      <span className="quiet">
        done: {cells - failed} of {cells}
        {failed > 0 && `, ${failed} failed`}
        {gone.length > 0 && `; deleted meanwhile: ${gone.join(', ')}`}
      </span>
    );
  }
  const { id, fileName, files, failed } = job.result as WrittenOut;
  return (
    <span>
      {files} {files === 1 ? 'file' : 'files'}
      {failed > 0 && <span className="text-error">, {failed} failed (manifest.json says which)</span>}:{' '}
      <a className="link link-primary" href={`/api/motions/out/${id}`} download={fileName}>
        {fileName}
      </a>
    </span>
  );
}
