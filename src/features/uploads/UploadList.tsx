import Link from 'next/link';
import { Check, LoaderCircle } from 'lucide-react';
import type { Added } from '@/contract/character-view';
import { ProblemNote } from '@/ui/ProblemNote';
import type { Upload } from './use-uploads';

interface UploadListProps {
  readonly uploads: readonly Upload[];
  readonly onCancel: (id: number, name: string) => Promise<void>;
  readonly onDismiss: (id: number) => void;
}

/** Files on their way in, newest first; failures stay until they are read. */
export function UploadList({ uploads, onCancel, onDismiss }: UploadListProps) {
  if (uploads.length === 0) return null;
  return (
    <ul aria-label="Files on their way in" className="mb-4 space-y-1.5">
      {uploads.map((upload) => (
        <li key={upload.id}>
          {upload.status === 'failed' ? (
            <ProblemNote
              problem={{ ...upload.problem, message: `${upload.name}: ${upload.problem.message}` }}
              onClose={() => onDismiss(upload.id)}
            />
          ) : (
            <div className="flex items-center gap-3 rounded-box border border-base-300 bg-base-100 px-3 py-1.5">
              {upload.status === 'done' ? (
                <Check aria-hidden className="size-4 text-success" />
              ) : (
                <LoaderCircle aria-hidden className="size-4 animate-spin text-primary" />
              )}
              <span className="min-w-0 flex-1 truncate font-mono text-[13px]">{upload.name}</span>
              <Status upload={upload} />
              {upload.status === 'done' ? (
                <button className="btn btn-ghost btn-xs" onClick={() => onDismiss(upload.id)}>
                  Close
                </button>
              ) : (
                <button
                  className="btn btn-ghost btn-xs"
                  disabled={upload.status === 'cancelling'}
                  onClick={() => void onCancel(upload.id, upload.name)}
                >
                  Cancel
                </button>
              )}
            </div>
          )}
        </li>
      ))}
    </ul>
  );
}

function Status({ upload }: { upload: Upload }) {
  switch (upload.status) {
    case 'waiting':
      return <span className="quiet">Waiting</span>;
    case 'sending':
      return (
        <progress
          className="progress w-32 progress-primary"
          aria-label={`Sending ${upload.name}`}
          value={Math.round(upload.share * 100)}
          max={100}
        />
      );
    case 'reading':
      return <span className="quiet">Reading and matching{upload.stage && ` ${upload.stage}`}</span>;
    case 'cancelling':
      return <span className="quiet">Cancelling</span>;
    case 'done':
      return (
        <span className="flex gap-3">
          {upload.isLate && <span className="text-warning">Added before it was cancelled</span>}
          {upload.characters.map((character) => (
            <Kept key={character.id} character={character} isOnly={upload.characters.length === 1} />
          ))}
        </span>
      );
    case 'failed':
      return null;
    default:
      return upload satisfies never;
  }
}

function Kept({ character, isOnly }: { character: Added; isOnly: boolean }) {
  const { id, name, isAlreadyThere, sameAs } = character;
  return (
    <span className="whitespace-nowrap">
      {isAlreadyThere && <span className="quiet">Already added, nothing new made: </span>}
      {sameAs && (
        <span className="text-warning">
          Same file as{' '}
          <Link className="link" href={`/characters/${sameAs.id}/match`}>
            {sameAs.name}
          </Link>
          , added minutes ago;{' '}
        </span>
      )}
      <Link className="link link-primary" href={`/characters/${id}/match`}>
        {isOnly ? 'Open' : name}
      </Link>
    </span>
  );
}
