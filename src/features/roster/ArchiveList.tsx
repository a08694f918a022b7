'use client';

import { Portrait } from '@/ui/Portrait';
import { useRouter } from 'next/navigation';
import { ArchiveRestore, Download, Trash2 } from 'lucide-react';
import { useState } from 'react';
import type { CharacterRemains, LeftPack, RosterRow } from '@/contract/character-view';
import type { Problem } from '@/core/errors/yarvo-error';
import { ProblemNote } from '@/ui/ProblemNote';
import { bytesText, momentText } from '@/ui/text';
import { deleteForGood, deleteLeftPack, fetchRemains, setArchived } from '@/ui/archive-requests';

/** Characters that were put away: brought back as they were, or deleted for good. */
export function ArchiveList({ rows, leftPacks }: { rows: readonly RosterRow[]; leftPacks: readonly LeftPack[] }) {
  return (
    <>
      {rows.length === 0 ? (
        <p className="quiet p-6 text-center">No character is archived. Choose some in the roster to archive them.</p>
      ) : (
        <ul aria-label="Archive" className="rounded-box border border-base-300 bg-base-100">
          {rows.map((row) => (
            <ArchivedItem key={row.id} row={row} />
          ))}
        </ul>
      )}
      {leftPacks.length > 0 && (
        <section className="mt-6">
          <h2 className="mb-2 font-semibold">Packs of deleted characters</h2>
          <ul aria-label="Packs of deleted characters" className="rounded-box border border-base-300 bg-base-100">
            {leftPacks.map((pack) => (
              <LeftPackItem key={`${pack.characterId} ${pack.version}`} pack={pack} />
            ))}
          </ul>
        </section>
      )}
    </>
  );
}

function LeftPackItem({ pack }: { pack: LeftPack }) {
  const router = useRouter();
  const [problem, setProblem] = useState<Problem | null>(null);
  const address = `/api/characters/${pack.characterId}/handoffs/${pack.version}/pack`;
  const remove = async () => {
    const failure = await deleteLeftPack(pack.characterId, pack.version);
    setProblem(failure);
    if (!failure) router.refresh();
  };
  return (
    <li className="border-b border-base-300 px-3 py-2 last:border-0">
      <div className="flex items-center gap-3">
        <p className="min-w-0 flex-1 truncate">
          <span className="font-semibold">{pack.characterName}</span> version {pack.version}{' '}
          <span className="quiet text-[13px]">
            signed off by {pack.author},{' '}
            <time dateTime={pack.at} suppressHydrationWarning>
              {momentText(pack.at)}
            </time>
          </span>
        </p>
        <a className="btn btn-sm" href={address} download={pack.fileName}>
          <Download aria-hidden className="size-4" />
          {pack.fileName}
        </a>
        <button className="btn btn-ghost btn-sm" aria-label={`Delete ${pack.fileName}`} onClick={() => void remove()}>
          <Trash2 aria-hidden className="size-4" />
          Delete for good
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

function ArchivedItem({ row }: { row: RosterRow }) {
  const router = useRouter();
  const [remains, setRemains] = useState<CharacterRemains | null>(null);
  const [problem, setProblem] = useState<Problem | null>(null);
  const [isBusy, setBusy] = useState(false);
  const run = async (work: () => Promise<Problem | null>) => {
    setBusy(true);
    const failure = await work();
    setBusy(false);
    setProblem(failure);
    if (!failure) router.refresh();
  };
  return (
    <li className="border-b border-base-300 px-3 py-2 last:border-0">
      <div className="flex items-center gap-3">
        <Portrait hash={row.portrait} className="shrink-0" />
        <div className="min-w-0 flex-1">
          <p className="truncate font-semibold">{row.name}</p>
          <p className="quiet truncate text-[13px]">
            <span className="font-mono text-xs">{row.fileName}</span> · {row.state} · last change{' '}
            <time dateTime={row.updatedAt} suppressHydrationWarning>
              {momentText(row.updatedAt)}
            </time>{' '}
            by {row.updatedBy}
          </p>
        </div>
        <button className="btn btn-sm" disabled={isBusy} onClick={() => void run(() => setArchived([row.id], false))}>
          <ArchiveRestore aria-hidden className="size-4" />
          Restore
        </button>
        <button
          className="btn btn-ghost btn-sm"
          aria-expanded={remains !== null}
          disabled={isBusy}
          onClick={async () => setRemains(remains ? null : await fetchRemains(row.id))}
        >
          <Trash2 aria-hidden className="size-4" />
          Delete
        </button>
      </div>
      {remains && (
        <DeleteStrip
          name={row.name}
          remains={remains}
          isBusy={isBusy}
          onDelete={(withPacks) => run(() => deleteForGood(row.id, withPacks))}
          onKeep={() => setRemains(null)}
        />
      )}
      {problem && (
        <div className="mt-2">
          <ProblemNote problem={problem} onClose={() => setProblem(null)} />
        </div>
      )}
    </li>
  );
}

interface DeleteStripProps {
  readonly name: string;
  readonly remains: CharacterRemains;
  readonly isBusy: boolean;
  readonly onDelete: (withPacks: boolean) => Promise<void>;
  readonly onKeep: () => void;
}

/** Deleting cannot be undone, so it says first, in numbers, what goes. */
function DeleteStrip({ name, remains, isBusy, onDelete, onKeep }: DeleteStripProps) {
  const [withPacks, setWithPacks] = useState(false);
  return (
    <div
      role="group"
      aria-label={`Delete ${name}`}
      className="mt-2 flex flex-wrap items-center gap-x-4 gap-y-2 rounded-box border border-error/50 p-3"
    >
      <p className="min-w-0 flex-1">{removedText(remains)} Deleting cannot be undone.</p>
      {remains.packs > 0 && (
        <label className="flex items-center gap-2">
          <input
            type="checkbox"
            className="checkbox checkbox-xs"
            checked={withPacks}
            onChange={(event) => setWithPacks(event.target.checked)}
          />
          {remains.packs === 1 ? 'And its pack' : `And its ${remains.packs} packs`}
        </label>
      )}
      <button className="btn btn-error btn-sm" disabled={isBusy} onClick={() => void onDelete(withPacks)}>
        {isBusy ? 'Deleting …' : 'Delete for good'}
      </button>
      <button className="btn btn-ghost btn-sm" onClick={onKeep}>
        Keep it
      </button>
    </div>
  );
}

const counted = (count: number, one: string, many = `${one}s`): string => `${count} ${count === 1 ? one : many}`;

/** "Removes 2 files (1.2 MB), 3 readings and 1 fit with 12 steps. Its pack stays." */
function removedText({ files, fileBytes, readings, fits, changes, packs, parts }: CharacterRemains): string {
  const gone = `Removes ${counted(files, 'file')} (${bytesText(fileBytes)}), ${counted(readings, 'reading')} and ${counted(fits, 'fit')} with ${counted(changes, 'step')}.`;
  const stays = packs > 0 ? ` What was handed off stays: ${counted(packs, 'pack')}.` : '';
  const back =
    parts > 0 ? ` ${counted(parts, 'part')} joined into it ${parts === 1 ? 'comes' : 'come'} back to the roster.` : '';
  return gone + stays + back;
}
