'use client';

import { useRouter } from 'next/navigation';
import { useCallback, useRef, useState } from 'react';
import type { IntakeOutcome, JoinProposal, Added } from '@/contract/character-view';
import type { JobView } from '@/contract/jobs';
import type { Problem } from '@/core/errors/yarvo-error';
import { countText } from '@/core/text/count';
import { jobProblem } from '@/ui/jobs/job-problem';
import { untilOver } from '@/ui/jobs/job-stream';
import { outcomeOf } from '@/contract/client';
import { api } from '@/ui/api';
import { newId } from '@/ui/new-id';
import { groupFiles, type UploadGroup } from './group-files';

/** One upload on its way in. */
export type Upload =
  | { readonly id: number; readonly name: string; readonly status: 'waiting' }
  | { readonly id: number; readonly name: string; readonly status: 'sending'; readonly share: number }
  /** Kept by the server, and in its queue; `stage` says what it is at. */
  | { readonly id: number; readonly name: string; readonly status: 'reading'; readonly stage: string }
  /** Asked to end; what the server has kept is not known yet. */
  | { readonly id: number; readonly name: string; readonly status: 'cancelling' }
  /** `isLate`: it was done before the cancel reached the server. */
  | {
      readonly id: number;
      readonly name: string;
      readonly status: 'done';
      readonly characters: readonly Added[];
      readonly isLate?: boolean;
    }
  | { readonly id: number; readonly name: string; readonly status: 'failed'; readonly problem: Problem };

/** What the server says of an upload that it kept. */
interface Answer {
  readonly job?: JobView;
  readonly isRepeated?: boolean;
  readonly excess?: Problem | null;
  readonly error?: Problem;
}

/** An upload that is being sent: how it is cut off, and what the server calls it. */
interface Sending {
  readonly request: XMLHttpRequest;
  readonly uploadId: string;
}

/** An upload that was sent, and what becomes of it later. */
interface Sent {
  readonly outcome: Promise<readonly Added[]>;
}

const CANCELLED: Problem = {
  code: 'cancelled',
  message: 'Cancelled; nothing was kept.',
  place: 'upload',
  remedy: 'Drop the file again if it is wanted.',
};
const OFFLINE: Problem = {
  code: 'offline',
  message: 'The server did not answer.',
  place: 'upload',
  remedy: 'Check that Yarvo is running, then drop the file again; what was kept already is not made twice.',
};
const UNSURE: Problem = {
  code: 'cancelled',
  message: 'Cancelled, but the server did not say whether it had kept it.',
  place: 'upload',
  remedy: 'Reload the roster to see.',
};

/** What is said of an upload before it is sent whose files are too many. */
const tooMany = ({ name, excess, files }: UploadGroup): IntakeOutcome['refused'][number] => ({
  path: name,
  problem: {
    code: 'too-many',
    message: `An upload takes ${files.length} files. The first ${files.length} are sent; ${countText(excess.length, 'file')} from "${excess[0].path}" on ${excess.length === 1 ? 'is' : 'are'} not.`,
    place: excess[0].path,
    remedy: 'Supply what is missing on Intake, or drop a smaller folder.',
  },
});

/**
 * Sends uploads one after another; each shows its own progress and can be cancelled.
 * @param shelves whether the server puts their clips on the shelf, also when this page is left meanwhile.
 */
export function useUploads({ shelves = false }: { readonly shelves?: boolean } = {}) {
  const router = useRouter();
  const [uploads, setUploads] = useState<readonly Upload[]>([]);
  const [joins, setJoins] = useState<readonly JoinProposal[]>([]);
  const nextId = useRef(1);
  const sending = useRef(new Map<number, Sending>());
  const cancelled = useRef(new Set<number>());
  /** Jobs that this page follows itself. */
  const own = useRef(new Set<string>());
  const isOwn = useCallback((jobId: string) => own.current.has(jobId), []);
  const chain = useRef<Promise<void>>(Promise.resolve());

  const update = useCallback(
    (upload: Upload) => setUploads((list) => list.map((known) => (known.id === upload.id ? upload : known))),
    [],
  );
  const addFailures = useCallback(
    (refused: IntakeOutcome['refused']) =>
      setUploads((list) => [
        ...refused.map(({ path, problem }): Upload => ({
          id: nextId.current++,
          name: path,
          status: 'failed',
          problem,
        })),
        ...list,
      ]),
    [],
  );

  /** Follows an upload that the server kept until its characters are there. */
  const follow = useCallback(
    async (id: number, name: string, { job, isRepeated }: Answer & { readonly job: JobView }) => {
      own.current.add(job.id);
      const over = await untilOver(job.id, ({ stage }) => {
        if (!cancelled.current.has(id)) update({ id, name, status: 'reading', stage });
      });
      sending.current.delete(id);
      const problem = jobProblem(over);
      // A cancel that is under way says itself how it ended.
      if (problem) {
        if (!cancelled.current.has(id)) update({ id, name, status: 'failed', problem });
        return [];
      }
      const { characters, refused } = over.result as IntakeOutcome;
      const shown = characters.map((character) => (isRepeated ? { ...character, isAlreadyThere: true } : character));
      if (!cancelled.current.has(id)) update({ id, name, status: 'done', characters: shown });
      addFailures(refused);
      router.refresh();
      return characters;
    },
    [addFailures, router, update],
  );

  /** Sends an upload; what becomes of it is followed while the next one is sent. */
  const send = useCallback(
    (id: number, group: UploadGroup): Promise<Sent> =>
      new Promise((resolve) => {
        const nothing: Sent = { outcome: Promise.resolve([]) };
        if (cancelled.current.has(id)) {
          resolve(nothing);
          return;
        }
        const { name } = group;
        const request = new XMLHttpRequest();
        const uploadId = newId();
        sending.current.set(id, { request, uploadId });
        own.current.add(uploadId);
        const show = (upload: Upload) => {
          if (!cancelled.current.has(id)) update(upload);
        };
        const fail = (problem: Problem) => {
          sending.current.delete(id);
          show({ id, name, status: 'failed', problem });
          resolve(nothing);
        };
        request.upload.onprogress = (event) =>
          show({ id, name, status: 'sending', share: event.total > 0 ? event.loaded / event.total : 0 });
        request.upload.onload = () => show({ id, name, status: 'reading', stage: '' });
        request.onabort = () => fail(CANCELLED);
        request.onerror = () => fail(OFFLINE);
        request.onload = () => {
          const answer = parseAnswer(request.responseText);
          const { job, excess } = answer;
          if (excess) addFailures([{ path: name, problem: excess }]);
          if (request.status === 202 && job) resolve({ outcome: follow(id, name, { ...answer, job }) });
          else fail(answer.error ?? OFFLINE);
        };
        if (group.files.length === 1) {
          request.open('POST', `/api/characters?upload=${uploadId}&shelf=${shelves}&name=${encodeURIComponent(name)}`);
          request.setRequestHeader('content-type', 'application/octet-stream');
          request.send(group.files[0].file);
          return;
        }
        const form = new FormData();
        for (const { path, file } of group.files) form.append('file', file, path);
        request.open('POST', `/api/characters?upload=${uploadId}&shelf=${shelves}`);
        request.send(form);
      }),
    [addFailures, follow, update, shelves],
  );

  const add = useCallback(
    (files: readonly File[]) => {
      const fresh = groupFiles(files).map((group) => ({ id: nextId.current++, group }));
      addFailures(fresh.flatMap(({ group }) => (group.excess.length > 0 ? [tooMany(group)] : [])));
      setUploads((list) => [
        ...fresh.map(({ id, group }): Upload => ({ id, name: group.name, status: 'waiting' })),
        ...list,
      ]);
      const taken: Promise<readonly Added[]>[] = [];
      for (const { id, group } of fresh)
        chain.current = chain.current.then(async () => {
          taken.push((await send(id, group)).outcome);
        });
      void chain.current.then(async () => {
        const added = (await Promise.all(taken)).flat();
        const proposals = added.length > 1 ? await proposeJoins(added) : [];
        if (proposals.length > 0) setJoins((known) => [...proposals, ...known]);
      });
    },
    [addFailures, send],
  );

  const cancel = useCallback(
    async (id: number, name: string) => {
      cancelled.current.add(id);
      const running = sending.current.get(id);
      if (!running) return update({ id, name, status: 'failed', problem: CANCELLED });
      update({ id, name, status: 'cancelling' });
      // The server is asked first: only it knows whether the file was kept before the cancel came.
      const kept = await cancelOnServer(running.uploadId);
      running.request.abort();
      sending.current.delete(id);
      if (kept === null) return update({ id, name, status: 'failed', problem: UNSURE });
      if (kept.length === 0) return update({ id, name, status: 'failed', problem: CANCELLED });
      update({ id, name, status: 'done', characters: kept, isLate: true });
      router.refresh();
    },
    [router, update],
  );

  const dismiss = useCallback((id: number) => setUploads((list) => list.filter((upload) => upload.id !== id)), []);
  const dismissJoin = useCallback(
    (bodyId: string) => setJoins((list) => list.filter((join) => join.bodyId !== bodyId)),
    [],
  );
  /** Joins as proposed; the problem, or null when it was done. */
  const join = useCallback(
    async ({ bodyId, parts }: JoinProposal): Promise<Problem | null> => {
      const body = { baseRevision: await revisionOf(bodyId), characterIds: parts.map(({ id }) => id) };
      const call = api.POST('/api/characters/{characterId}/parts', { params: { path: { characterId: bodyId } }, body });
      const outcome = await outcomeOf(call, 'parts');
      if (!outcome.ok) return outcome.problem;
      dismissJoin(bodyId);
      router.refresh();
      return null;
    },
    [dismissJoin, router],
  );
  return { uploads, isOwn, joins, add, cancel, dismiss, join, dismissJoin };
}

/** What the server has kept of an upload all the same; null where it did not answer. */
async function cancelOnServer(uploadId: string): Promise<readonly Added[] | null> {
  const call = api.DELETE('/api/jobs/{jobId}', { params: { path: { jobId: uploadId } } });
  const outcome = await outcomeOf(call, 'upload');
  if (!outcome.ok) return null;
  const { job } = outcome.data;
  if (!job) return [];
  const over = await untilOver(job.id);
  return over.state === 'done' ? (over.result as IntakeOutcome).characters : [];
}

async function proposeJoins(characters: readonly Added[]): Promise<readonly JoinProposal[]> {
  const body = { characterIds: characters.map(({ id }) => id) };
  const outcome = await outcomeOf(api.POST('/api/joins', { body }), 'joins');
  return outcome.ok ? outcome.data.proposals : [];
}

async function revisionOf(characterId: string): Promise<number> {
  const call = api.GET('/api/characters/{characterId}', { params: { path: { characterId } } });
  const outcome = await outcomeOf(call, 'parts');
  return outcome.ok ? outcome.data.fit.revision : 0;
}

function parseAnswer(text: string): Answer {
  try {
    return JSON.parse(text) as Answer;
  } catch {
    return {};
  }
}
