'use client';

import { useRouter } from 'next/navigation';
import { useCallback, useRef, useState } from 'react';
import type { IntakeOutcome, JoinProposal, Added } from '@/contract/character-view';
import type { Problem } from '@/core/errors/yarvo-error';
import { newId } from '@/ui/new-id';
import { groupFiles, type UploadGroup } from './group-files';

/** One upload on its way in. */
export type Upload =
  | { readonly id: number; readonly name: string; readonly status: 'waiting' }
  | { readonly id: number; readonly name: string; readonly status: 'sending'; readonly share: number }
  | { readonly id: number; readonly name: string; readonly status: 'reading' }
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

type Answer = Partial<IntakeOutcome> & { readonly error?: Problem };

/** An upload that is being sent: how it is cut off, and what the server calls it. */
interface Sending {
  readonly request: XMLHttpRequest;
  readonly uploadId: string;
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

/** Sends uploads one after another; each shows its own progress and can be cancelled. */
export function useUploads() {
  const router = useRouter();
  const [uploads, setUploads] = useState<readonly Upload[]>([]);
  const [joins, setJoins] = useState<readonly JoinProposal[]>([]);
  const nextId = useRef(1);
  const sending = useRef(new Map<number, Sending>());
  const cancelled = useRef(new Set<number>());
  const chain = useRef<Promise<void>>(Promise.resolve());

  const update = useCallback(
    (upload: Upload) => setUploads((list) => list.map((known) => (known.id === upload.id ? upload : known))),
    [],
  );
  const addFailures = useCallback(
    (refused: NonNullable<Answer['refused']>) =>
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

  const send = useCallback(
    (id: number, group: UploadGroup): Promise<readonly Added[]> =>
      new Promise((resolve) => {
        if (cancelled.current.has(id)) {
          resolve([]);
          return;
        }
        const { name } = group;
        const request = new XMLHttpRequest();
        const uploadId = newId();
        sending.current.set(id, { request, uploadId });
        const finish = (upload: Upload) => {
          sending.current.delete(id);
          // A cancel that is under way says itself how it ended.
          if (!cancelled.current.has(id)) update(upload);
          if (upload.status === 'done') router.refresh();
          resolve(upload.status === 'done' ? upload.characters : []);
        };
        const progress = (upload: Upload) => {
          if (!cancelled.current.has(id)) update(upload);
        };
        request.upload.onprogress = (event) =>
          progress({ id, name, status: 'sending', share: event.total > 0 ? event.loaded / event.total : 0 });
        request.upload.onload = () => progress({ id, name, status: 'reading' });
        request.onabort = () => finish({ id, name, status: 'failed', problem: CANCELLED });
        request.onerror = () => finish({ id, name, status: 'failed', problem: OFFLINE });
        request.onload = () => {
          const answer = parseAnswer(request.responseText);
          if (request.status !== 201 || !answer.characters) {
            finish({ id, name, status: 'failed', problem: answer.error ?? OFFLINE });
            return;
          }
          finish({ id, name, status: 'done', characters: answer.characters });
          addFailures(answer.refused ?? []);
        };
        if (group.files.length === 1) {
          request.open('POST', `/api/characters?upload=${uploadId}&name=${encodeURIComponent(name)}`);
          request.setRequestHeader('content-type', 'application/octet-stream');
          request.send(group.files[0].file);
          return;
        }
        const form = new FormData();
        for (const { path, file } of group.files) form.append('file', file, path);
        request.open('POST', `/api/characters?upload=${uploadId}`);
        request.send(form);
      }),
    [addFailures, router, update],
  );

  const add = useCallback(
    (files: readonly File[]) => {
      const fresh = groupFiles(files).map((group) => ({ id: nextId.current++, group }));
      setUploads((list) => [
        ...fresh.map(({ id, group }): Upload => ({ id, name: group.name, status: 'waiting' })),
        ...list,
      ]);
      const taken: Added[] = [];
      for (const { id, group } of fresh)
        chain.current = chain.current.then(async () => {
          taken.push(...(await send(id, group)));
        });
      chain.current = chain.current.then(async () => {
        const proposals = taken.length > 1 ? await proposeJoins(taken) : [];
        if (proposals.length > 0) setJoins((known) => [...proposals, ...known]);
      });
    },
    [send],
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
      const body = { baseRevision: await revisionOf(bodyId), characterIds: parts.map((part) => part.id) };
      const response = await fetch(`/api/characters/${bodyId}/parts`, {
        method: 'POST',
        headers: { 'content-type': 'application/json' },
        body: JSON.stringify(body),
      }).catch(() => null);
      if (!response?.ok) return ((await response?.json().catch(() => null)) as Answer | null)?.error ?? OFFLINE;
      dismissJoin(bodyId);
      router.refresh();
      return null;
    },
    [dismissJoin, router],
  );
  return { uploads, joins, add, cancel, dismiss, join, dismissJoin };
}

/** What the server has kept of an upload all the same; null where it did not answer. */
async function cancelOnServer(uploadId: string): Promise<readonly Added[] | null> {
  const response = await fetch(`/api/uploads/${uploadId}`, { method: 'DELETE' }).catch(() => null);
  return response?.ok ? ((await response.json()) as { kept: Added[] }).kept : null;
}

async function proposeJoins(characters: readonly Added[]): Promise<JoinProposal[]> {
  const response = await fetch('/api/joins', {
    method: 'POST',
    headers: { 'content-type': 'application/json' },
    body: JSON.stringify({ characterIds: characters.map((character) => character.id) }),
  }).catch(() => null);
  return response?.ok ? ((await response.json()) as { proposals: JoinProposal[] }).proposals : [];
}

async function revisionOf(characterId: string): Promise<number> {
  const response = await fetch(`/api/characters/${characterId}`).catch(() => null);
  return response?.ok ? ((await response.json()) as { fit: { revision: number } }).fit.revision : 0;
}

function parseAnswer(text: string): Answer {
  try {
    return JSON.parse(text) as Answer;
  } catch {
    return {};
  }
}
