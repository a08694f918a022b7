'use client';

import Link from 'next/link';
import { Archive, FileUp } from 'lucide-react';
import { useRouter } from 'next/navigation';
import { useRef, useState } from 'react';
import { useDropzone } from 'react-dropzone';
import type { RenewalView } from '@/contract/renewals';
import type { LeftPack, RosterPage as RosterPageData, RosterRow } from '@/contract/character-view';
import { capitalised, momentText } from '@/ui/text';
import { useListening } from '@/ui/use-listening';
import { Portrait } from '@/ui/Portrait';
import { PageHead } from '@/ui/PageHead';
import { ArchiveList } from './ArchiveList';
import { BulkBar } from './BulkBar';
import { JobList } from './JobList';
import { JoinList } from './JoinList';
import { RenewalList } from './RenewalList';
import { UploadList } from '../uploads/UploadList';
import { useOtherJobs } from './use-other-jobs';
import { useUploads } from '../uploads/use-uploads';

interface RosterPageProps {
  readonly roster: RosterPageData;
  /** What is looked for. */
  readonly text: string;
  readonly isInArchive: boolean;
  readonly leftPacks: readonly LeftPack[];
  readonly renewals: readonly RenewalView[];
}

/** A page of the characters; files dropped anywhere on it are added. */
export function RosterPage({ roster, text, isInArchive, leftPacks, renewals }: RosterPageProps) {
  useListening('roster');
  const { uploads, isOwn, joins, add, cancel, dismiss, join, dismissJoin } = useUploads();
  const others = useOtherJobs(isOwn);
  const { getRootProps, getInputProps, isDragActive, open } = useDropzone({
    onDrop: (files) => add(files),
    noClick: true,
    noKeyboard: true,
  });
  const [chosen, setChosen] = useState<ReadonlySet<string>>(new Set());
  const { rows, total, archived } = roster;
  const router = useRouter();
  const go = (address: { text?: string; page?: number; isInArchive?: boolean }) =>
    router.replace(addressOf({ text, isInArchive, ...address }));
  const { tabIndex: _tabIndex, ...rootProps } = getRootProps();
  return (
    <div {...rootProps} className="flex min-h-full flex-col">
      <input {...getInputProps()} aria-label="Files to add" />
      <PageHead
        title={isInArchive ? 'Archive' : 'Roster'}
        about={`${total.toLocaleString('en')} ${total === 1 ? 'character' : 'characters'}`}
      >
        {(archived > 0 || leftPacks.length > 0 || isInArchive) && (
          <button
            className="btn btn-ghost font-normal btn-sm"
            aria-pressed={isInArchive}
            onClick={() => {
              setChosen(new Set());
              router.push(addressOf({ isInArchive: !isInArchive }));
            }}
          >
            <Archive aria-hidden className="size-4" />
            {isInArchive ? 'Back to the roster' : `Archive (${archived})`}
          </button>
        )}
        <Link href="/motions" className="btn btn-ghost font-normal btn-sm">
          Motions
        </Link>
        <Link href="/board" className="btn btn-ghost font-normal btn-sm">
          Board
        </Link>
        <Link href="/checks" className="btn btn-ghost font-normal btn-sm">
          Checks
        </Link>
        <Link href="/studio" className="btn btn-ghost font-normal btn-sm">
          Studio
        </Link>
        {!isInArchive && <FindCharacter text={text} onFind={(wanted) => go({ text: wanted })} />}
        <button className="btn btn-primary btn-sm" onClick={open}>
          <FileUp aria-hidden className="size-4" />
          Add files
        </button>
      </PageHead>
      <main className="mx-auto w-full max-w-6xl flex-1 p-5">
        <UploadList uploads={uploads} onCancel={cancel} onDismiss={dismiss} />
        <JobList jobs={others.jobs} onCancel={others.cancel} onRetry={others.retry} onDismiss={others.dismiss} />
        <JoinList joins={joins} onJoin={join} onDismiss={dismissJoin} />
        {!isInArchive && <RenewalList renewals={renewals} />}
        {isInArchive ? (
          <ArchiveList rows={rows} leftPacks={leftPacks} />
        ) : (
          <>
            {chosen.size > 0 && <BulkBar ids={[...chosen]} onDone={() => setChosen(new Set())} />}
            {total === 0 && text === '' ? (
              <EmptyRoster onPick={open} />
            ) : (
              <RosterTable rows={rows} chosen={chosen} onChoose={setChosen} />
            )}
            {total === 0 && text !== '' && (
              <p className="quiet p-6 text-center">No character matches &ldquo;{text}&rdquo;.</p>
            )}
          </>
        )}
        <Pages roster={roster} onGo={(page) => go({ page })} />
      </main>
      {isDragActive && (
        <div className="pointer-events-none fixed inset-0 z-40 grid place-items-center bg-base-200/85">
          <p className="rounded-box border-2 border-dashed border-primary bg-base-100 px-10 py-8 text-lg">
            Drop to add the files
          </p>
        </div>
      )}
    </div>
  );
}

/** The address of a part of the roster. */
function addressOf({
  text = '',
  page = 1,
  isInArchive = false,
}: {
  text?: string;
  page?: number;
  isInArchive?: boolean;
}): string {
  const query = new URLSearchParams({
    ...(text && { text }),
    ...(page > 1 && { page: String(page) }),
    ...(isInArchive && { archive: 'yes' }),
  }).toString();
  return query ? `/?${query}` : '/';
}

const FIND_AFTER_MS = 250;

/** What is typed is looked for once the typing rests. */
function FindCharacter({ text, onFind }: { text: string; onFind: (text: string) => void }) {
  const [typed, setTyped] = useState(text);
  const timer = useRef<ReturnType<typeof setTimeout>>(undefined);
  const type = (next: string) => {
    setTyped(next);
    clearTimeout(timer.current);
    timer.current = setTimeout(() => onFind(next.trim()), FIND_AFTER_MS);
  };
  return (
    <input
      type="search"
      aria-label="Find a character"
      placeholder="Find by name or state"
      className="input w-56 input-sm"
      maxLength={200}
      value={typed}
      onChange={(event) => type(event.target.value)}
    />
  );
}

/** Which rows these are, and the way to the others; nothing where all are shown. */
function Pages({
  roster: { page, size, total, rows },
  onGo,
}: {
  roster: RosterPageData;
  onGo: (page: number) => void;
}) {
  if (total <= size) return null;
  const from = (page - 1) * size;
  return (
    <nav aria-label="Pages" className="mt-3 flex items-center justify-end gap-3 text-[13px]">
      <span className="quiet tabular-nums">
        {rows.length === 0 ? 'None here' : `${from + 1} to ${from + rows.length} of ${total.toLocaleString('en')}`}
      </span>
      <button className="btn btn-sm" disabled={page <= 1} onClick={() => onGo(page - 1)}>
        Previous
      </button>
      <button className="btn btn-sm" disabled={from + rows.length >= total} onClick={() => onGo(page + 1)}>
        Next
      </button>
    </nav>
  );
}

function EmptyRoster({ onPick }: { onPick: () => void }) {
  return (
    <div className="mx-auto mt-16 max-w-md text-center">
      <h2 className="text-lg font-semibold">No characters yet</h2>
      <p className="quiet mt-2">
        Drop glTF, VRM, FBX, COLLADA or BVH files, zips or whole folders anywhere on this page. Each is read, matched
        onto the studio&rsquo;s definition and listed here with what needs a look.
      </p>
      <button className="btn mt-4 btn-primary btn-sm" onClick={onPick}>
        Add files
      </button>
    </div>
  );
}

const HEADINGS = ['', 'Character', 'State', 'Doubts', 'Blockers', 'Bones', 'Last change'];

interface RosterTableProps {
  readonly rows: readonly RosterRow[];
  readonly chosen: ReadonlySet<string>;
  readonly onChoose: (chosen: ReadonlySet<string>) => void;
}

function RosterTable({ rows, chosen, onChoose }: RosterTableProps) {
  const areAll = rows.length > 0 && rows.every((row) => chosen.has(row.id));
  const toggle = (id: string) => {
    const next = new Set(chosen);
    if (!next.delete(id)) next.add(id);
    onChoose(next);
  };
  return (
    <table className="w-full border-separate border-spacing-0 rounded-box border border-base-300 bg-base-100">
      <thead>
        <tr className="text-left text-[13px]">
          <th scope="col" className="w-8 border-b border-base-300 pl-3">
            <input
              type="checkbox"
              className="checkbox checkbox-xs align-middle"
              aria-label="Choose all"
              checked={areAll}
              onChange={() => onChoose(areAll ? new Set() : new Set(rows.map((row) => row.id)))}
            />
          </th>
          {HEADINGS.map((heading, at) => (
            <th
              key={at}
              scope="col"
              className={`quiet border-b border-base-300 px-3 py-2 font-medium ${at >= 3 && at <= 5 ? 'text-right' : ''}`}
            >
              {heading || <span className="sr-only">Portrait</span>}
            </th>
          ))}
        </tr>
      </thead>
      <tbody>
        {rows.map((row) => (
          <tr key={row.id} className="group hover:bg-base-200">
            <td className="border-b border-base-300 pl-3 group-last:border-0">
              <input
                type="checkbox"
                className="checkbox checkbox-xs align-middle"
                aria-label={`Choose ${row.name}`}
                checked={chosen.has(row.id)}
                onChange={() => toggle(row.id)}
              />
            </td>
            <td className="w-16 border-b border-base-300 py-1 pl-2 group-last:border-0">
              <Portrait hash={row.portrait} />
            </td>
            <td className="border-b border-base-300 px-3 group-last:border-0">
              <Link className="font-semibold hover:text-primary hover:underline" href={`/characters/${row.id}/match`}>
                {row.name}
              </Link>
              <div className="quiet font-mono text-xs">{row.fileName}</div>
            </td>
            <td className="border-b border-base-300 px-3 group-last:border-0">
              <StateMark row={row} />
            </td>
            <Count value={row.doubts} tone="text-warning" word="doubt" />
            <Count value={row.blockers} tone="text-error" word="blocker" />
            <td className="border-b border-base-300 px-3 text-right tabular-nums group-last:border-0">{row.bones}</td>
            <td className="quiet border-b border-base-300 px-3 text-[13px] group-last:border-0">
              <time dateTime={row.updatedAt} suppressHydrationWarning>
                {momentText(row.updatedAt)}
              </time>{' '}
              by {row.updatedBy}
            </td>
          </tr>
        ))}
      </tbody>
    </table>
  );
}

function Count({ value, tone, word }: { value: number; tone: string; word: string }) {
  return (
    <td className="border-b border-base-300 px-3 text-right tabular-nums group-last:border-0">
      <span
        className={value > 0 ? `font-semibold ${tone}` : 'quiet'}
        aria-label={`${value} ${word}${value === 1 ? '' : 's'}`}
      >
        {value === 0 ? '–' : value}
      </span>
    </td>
  );
}

const STATE_SHAPES: Record<RosterRow['state'], string> = {
  new: '○',
  'in work': '◐',
  'needs a look': '?',
  ready: '●',
  'handed off': '▸',
  reopened: '↺',
};

function StateMark({ row }: { row: RosterRow }) {
  const tone =
    row.state === 'needs a look'
      ? 'text-warning'
      : row.state === 'ready' || row.state === 'handed off'
        ? 'text-success'
        : '';
  return (
    <span className={`whitespace-nowrap ${tone}`}>
      <span aria-hidden className="mr-1.5 inline-block w-3 text-center font-semibold">
        {STATE_SHAPES[row.state]}
      </span>
      {capitalised(row.state)}
      {row.kind === 'mesh' ? (
        <span className="text-warning"> · no skeleton</span>
      ) : (
        !row.isHumanoid && <span className="text-warning"> · not a humanoid</span>
      )}
      {row.kind === 'motion' && <span className="quiet"> · motion</span>}
      {row.kind === 'skeleton' && <span className="quiet"> · no mesh</span>}
    </span>
  );
}
