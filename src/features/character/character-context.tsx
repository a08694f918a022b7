'use client';

import { createContext, useCallback, useContext, useEffect, useMemo, useRef, useState, type ReactNode } from 'react';
import type { CharacterView, FitView } from '@/core/character/character-view';
import { QUAY } from '@/core/definition/quay';
import type { Definition } from '@/core/definition/definition';
import type { Problem } from '@/core/errors/yarvo-error';
import type { FitAction } from '@/core/fit/fit-actions';

/** Whether what is seen is what is kept. */
export type SaveState =
  | { readonly status: 'saved' }
  | { readonly status: 'saving' }
  | { readonly status: 'retrying' }
  | { readonly status: 'failed'; readonly problem: Problem };

interface CharacterContextValue {
  readonly character: CharacterView;
  readonly definition: Definition;
  readonly fit: FitView;
  readonly save: SaveState;
  readonly act: (action: FitAction) => void;
  readonly undo: () => void;
  readonly redo: () => void;
  readonly dismissProblem: () => void;
}

const Context = createContext<CharacterContextValue | null>(null);

export function useCharacter(): CharacterContextValue {
  const value = useContext(Context);
  if (!value) throw new Error('useCharacter is used outside a character page');
  return value;
}

type Request = { readonly path: 'changes'; readonly action: FitAction } | { readonly path: 'undo' | 'redo' };

const RETRY_MS = 1500;

/** Holds the fit of one character; sends changes one after another, each on the revision the last answer brought. */
export function CharacterProvider({ character, children }: { character: CharacterView; children: ReactNode }) {
  const [fit, setFit] = useState(character.fit);
  const [save, setSave] = useState<SaveState>({ status: 'saved' });
  const revision = useRef(character.fit.revision);
  const queue = useRef<Request[]>([]);
  const isBusy = useRef(false);

  // A navigation may bring a newer fit from the server than the one held here.
  useEffect(() => {
    if (character.fit.revision <= revision.current) return;
    revision.current = character.fit.revision;
    setFit(character.fit);
  }, [character.fit]);

  const work = useCallback(async () => {
    if (isBusy.current) return;
    isBusy.current = true;
    for (let request = queue.current[0]; request; request = queue.current[0]) {
      setSave({ status: 'saving' });
      const answer = await send(character.id, request, revision.current);
      if (answer.kind === 'offline') {
        // Nothing is lost while the server is away: the change stays in the queue.
        setSave({ status: 'retrying' });
        await new Promise((resolve) => setTimeout(resolve, RETRY_MS));
        continue;
      }
      queue.current.shift();
      if (answer.fit) {
        revision.current = answer.fit.revision;
        setFit(answer.fit);
      }
      if (answer.kind === 'refused') {
        queue.current = [];
        setSave({ status: 'failed', problem: answer.problem });
        isBusy.current = false;
        return;
      }
    }
    isBusy.current = false;
    setSave({ status: 'saved' });
  }, [character.id]);

  const push = useCallback((request: Request) => {
    queue.current.push(request);
    void work();
  }, [work]);

  useEffect(() => {
    const warn = (event: BeforeUnloadEvent) => {
      if (queue.current.length > 0) event.preventDefault();
    };
    window.addEventListener('beforeunload', warn);
    return () => window.removeEventListener('beforeunload', warn);
  }, []);

  const value = useMemo<CharacterContextValue>(() => ({
    character,
    definition: QUAY,
    fit,
    save,
    act: (action) => push({ path: 'changes', action }),
    undo: () => push({ path: 'undo' }),
    redo: () => push({ path: 'redo' }),
    dismissProblem: () => setSave({ status: 'saved' }),
  }), [character, fit, save, push]);
  return <Context.Provider value={value}>{children}</Context.Provider>;
}

type Answer =
  | { readonly kind: 'done'; readonly fit: FitView }
  | { readonly kind: 'refused'; readonly fit: FitView | null; readonly problem: Problem }
  | { readonly kind: 'offline' };

async function send(characterId: string, request: Request, baseRevision: number): Promise<Answer> {
  try {
    const body = request.path === 'changes' ? { baseRevision, action: request.action } : { baseRevision };
    const response = await fetch(`/api/characters/${characterId}/fit/${request.path}`, { method: 'POST', headers: { 'content-type': 'application/json' }, body: JSON.stringify(body) });
    const answer = (await response.json()) as { fit?: FitView; error?: Problem };
    if (response.ok && answer.fit) return { kind: 'done', fit: answer.fit };
    const problem = answer.error ?? { code: 'unexpected', message: `The server answered ${response.status}.`, place: 'fit', remedy: 'Reload the page.' };
    return { kind: 'refused', fit: answer.fit ?? null, problem };
  } catch {
    return { kind: 'offline' };
  }
}
