'use client';

import { useRouter } from 'next/navigation';
import { useCallback, useRef, useState } from 'react';
import type { Problem } from '@/core/errors/yarvo-error';

/** One file on its way in. */
export type Upload =
  | { readonly id: number; readonly name: string; readonly status: 'waiting' }
  | { readonly id: number; readonly name: string; readonly status: 'sending'; readonly share: number }
  | { readonly id: number; readonly name: string; readonly status: 'reading' }
  | { readonly id: number; readonly name: string; readonly status: 'done'; readonly characterId: string }
  | { readonly id: number; readonly name: string; readonly status: 'failed'; readonly problem: Problem };

const CANCELLED: Problem = { code: 'cancelled', message: 'Cancelled; nothing was kept.', place: 'upload', remedy: 'Drop the file again if it is wanted.' };
const OFFLINE: Problem = { code: 'offline', message: 'The server did not answer.', place: 'upload', remedy: 'Check that Yarvo is running, then drop the file again.' };

/** Sends files one after another; each shows its own progress and can be cancelled. */
export function useUploads() {
  const router = useRouter();
  const [uploads, setUploads] = useState<readonly Upload[]>([]);
  const nextId = useRef(1);
  const requests = useRef(new Map<number, XMLHttpRequest>());
  const cancelled = useRef(new Set<number>());
  const chain = useRef<Promise<void>>(Promise.resolve());

  const update = useCallback((upload: Upload) => setUploads((list) => list.map((known) => (known.id === upload.id ? upload : known))), []);

  const send = useCallback((id: number, file: File): Promise<void> => new Promise((resolve) => {
    if (cancelled.current.has(id)) {
      resolve();
      return;
    }
    const request = new XMLHttpRequest();
    requests.current.set(id, request);
    const finish = (upload: Upload) => {
      requests.current.delete(id);
      update(upload);
      if (upload.status === 'done') router.refresh();
      resolve();
    };
    request.upload.onprogress = (event) => update({ id, name: file.name, status: 'sending', share: event.total > 0 ? event.loaded / event.total : 0 });
    request.upload.onload = () => update({ id, name: file.name, status: 'reading' });
    request.onabort = () => finish({ id, name: file.name, status: 'failed', problem: CANCELLED });
    request.onerror = () => finish({ id, name: file.name, status: 'failed', problem: OFFLINE });
    request.onload = () => {
      const answer = parseAnswer(request.responseText);
      if (request.status === 201 && answer.id) finish({ id, name: file.name, status: 'done', characterId: answer.id });
      else finish({ id, name: file.name, status: 'failed', problem: answer.error ?? OFFLINE });
    };
    request.open('POST', `/api/characters?name=${encodeURIComponent(file.name)}`);
    request.setRequestHeader('content-type', 'application/octet-stream');
    request.send(file);
  }), [router, update]);

  const add = useCallback((files: readonly File[]) => {
    const fresh = files.map((file) => ({ id: nextId.current++, file }));
    setUploads((list) => [...fresh.map(({ id, file }): Upload => ({ id, name: file.name, status: 'waiting' })), ...list]);
    for (const { id, file } of fresh) chain.current = chain.current.then(() => send(id, file));
  }, [send]);

  const cancel = useCallback((id: number) => {
    cancelled.current.add(id);
    const request = requests.current.get(id);
    if (request) request.abort();
    else setUploads((list) => list.map((upload) => (upload.id === id ? { id, name: upload.name, status: 'failed', problem: CANCELLED } : upload)));
  }, []);

  const dismiss = useCallback((id: number) => setUploads((list) => list.filter((upload) => upload.id !== id)), []);
  return { uploads, add, cancel, dismiss };
}

function parseAnswer(text: string): { id?: string; error?: Problem } {
  try {
    return JSON.parse(text) as { id?: string; error?: Problem };
  } catch {
    return {};
  }
}
