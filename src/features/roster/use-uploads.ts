'use client';

import { useRouter } from 'next/navigation';
import { useCallback, useRef, useState } from 'react';
import type { IntakeOutcome, JoinProposal, TakenIn } from '@/core/character/character-view';
import type { Problem } from '@/core/errors/yarvo-error';
import { groupFiles, type UploadGroup } from './group-files';

/** One upload on its way in. */
export type Upload =
  | { readonly id: number; readonly name: string; readonly status: 'waiting' }
  | { readonly id: number; readonly name: string; readonly status: 'sending'; readonly share: number }
  | { readonly id: number; readonly name: string; readonly status: 'reading' }
  | { readonly id: number; readonly name: string; readonly status: 'done'; readonly characters: readonly TakenIn[] }
  | { readonly id: number; readonly name: string; readonly status: 'failed'; readonly problem: Problem };

type Answer = Partial<IntakeOutcome> & { readonly error?: Problem };

const CANCELLED: Problem = { code: 'cancelled', message: 'Cancelled; nothing was kept.', place: 'upload', remedy: 'Drop the file again if it is wanted.' };
const OFFLINE: Problem = { code: 'offline', message: 'The server did not answer.', place: 'upload', remedy: 'Check that Yarvo is running, then drop the file again.' };

/** Sends uploads one after another; each shows its own progress and can be cancelled. */
export function useUploads() {
  const router = useRouter();
  const [uploads, setUploads] = useState<readonly Upload[]>([]);
  const [joins, setJoins] = useState<readonly JoinProposal[]>([]);
  const nextId = useRef(1);
  const requests = useRef(new Map<number, XMLHttpRequest>());
  const cancelled = useRef(new Set<number>());
  const chain = useRef<Promise<void>>(Promise.resolve());

  const update = useCallback((upload: Upload) => setUploads((list) => list.map((known) => (known.id === upload.id ? upload : known))), []);
  const addFailures = useCallback((refused: NonNullable<Answer['refused']>) => setUploads((list) => [...refused.map(({ path, problem }): Upload => ({ id: nextId.current++, name: path, status: 'failed', problem })), ...list]), []);

  const send = useCallback((id: number, group: UploadGroup): Promise<readonly TakenIn[]> => new Promise((resolve) => {
    if (cancelled.current.has(id)) {
      resolve([]);
      return;
    }
    const { name } = group;
    const request = new XMLHttpRequest();
    requests.current.set(id, request);
    const finish = (upload: Upload) => {
      requests.current.delete(id);
      update(upload);
      if (upload.status === 'done') router.refresh();
      resolve(upload.status === 'done' ? upload.characters : []);
    };
    request.upload.onprogress = (event) => update({ id, name, status: 'sending', share: event.total > 0 ? event.loaded / event.total : 0 });
    request.upload.onload = () => update({ id, name, status: 'reading' });
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
      request.open('POST', `/api/characters?name=${encodeURIComponent(name)}`);
      request.setRequestHeader('content-type', 'application/octet-stream');
      request.send(group.files[0].file);
      return;
    }
    const form = new FormData();
    for (const { path, file } of group.files) form.append('file', file, path);
    request.open('POST', '/api/characters');
    request.send(form);
  }), [addFailures, router, update]);

  const add = useCallback((files: readonly File[]) => {
    const fresh = groupFiles(files).map((group) => ({ id: nextId.current++, group }));
    setUploads((list) => [...fresh.map(({ id, group }): Upload => ({ id, name: group.name, status: 'waiting' })), ...list]);
    const taken: TakenIn[] = [];
    for (const { id, group } of fresh) chain.current = chain.current.then(async () => { taken.push(...(await send(id, group))); });
    chain.current = chain.current.then(async () => {
      const proposals = taken.length > 1 ? await proposeJoins(taken) : [];
      if (proposals.length > 0) setJoins((known) => [...proposals, ...known]);
    });
  }, [send]);

  const cancel = useCallback((id: number) => {
    cancelled.current.add(id);
    const request = requests.current.get(id);
    if (request) request.abort();
    else setUploads((list) => list.map((upload) => (upload.id === id ? { id, name: upload.name, status: 'failed', problem: CANCELLED } : upload)));
  }, []);

  const dismiss = useCallback((id: number) => setUploads((list) => list.filter((upload) => upload.id !== id)), []);
  const dismissJoin = useCallback((bodyId: string) => setJoins((list) => list.filter((join) => join.bodyId !== bodyId)), []);
  /** Joins as proposed; the problem, or null when it was done. */
  const join = useCallback(async ({ bodyId, parts }: JoinProposal): Promise<Problem | null> => {
    const body = { baseRevision: await revisionOf(bodyId), characterIds: parts.map((part) => part.id) };
    const response = await fetch(`/api/characters/${bodyId}/parts`, { method: 'POST', headers: { 'content-type': 'application/json' }, body: JSON.stringify(body) }).catch(() => null);
    if (!response?.ok) return ((await response?.json().catch(() => null)) as Answer | null)?.error ?? OFFLINE;
    dismissJoin(bodyId);
    router.refresh();
    return null;
  }, [dismissJoin, router]);
  return { uploads, joins, add, cancel, dismiss, join, dismissJoin };
}

async function proposeJoins(characters: readonly TakenIn[]): Promise<JoinProposal[]> {
  const response = await fetch('/api/joins', { method: 'POST', headers: { 'content-type': 'application/json' }, body: JSON.stringify({ characterIds: characters.map((character) => character.id) }) }).catch(() => null);
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
