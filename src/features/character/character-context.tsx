'use client';

import { createContext, useCallback, useContext, useEffect, useMemo, useRef, useState, type ReactNode } from 'react';
import type { CharacterView, FitView } from '@/contract/character-view';
import type { Definition } from '@/core/definition/definition';
import type { Problem } from '@/core/errors/yarvo-error';
import type { FitAction } from '@/core/fit/actions/fit-actions';
import type { EngineProfile } from '@/core/profile/profile';
import type { RepairKind } from '@/core/repairs/repair-kinds';
import type { IntakeDecisions } from '@/core/intake/decisions';
import { outcomeOf } from '@/contract/client';
import { api } from '@/ui/api';
import { newId } from '@/ui/new-id';

/** Whether what is seen is what is kept. */
export type SaveState =
  | { readonly status: 'saved' }
  | { readonly status: 'saving' }
  /** `why`: what the change waits for. */
  | { readonly status: 'retrying'; readonly why: 'server' | 'database' }
  /** `seenRevision`: what the sender knew; steps after it are news to them. `canRepeat`: somebody else was first; the change that was refused is kept and can be made on the newer fit. */
  | {
      readonly status: 'failed';
      readonly problem: Problem;
      readonly canRepeat: boolean;
      readonly seenRevision: number;
    };

interface CharacterContextValue {
  readonly character: CharacterView;
  readonly definition: Definition;
  readonly profile: EngineProfile;
  readonly fit: FitView;
  readonly save: SaveState;
  readonly act: (action: FitAction) => void;
  /** Changes how the file is understood; the rig may be another one afterwards. */
  readonly decide: (change: Partial<IntakeDecisions>) => void;
  /** Sends files for references that led nowhere. */
  readonly supply: (files: readonly File[]) => void;
  /** Makes repairs that findings offer; "safe": all that take nothing away that is seen. */
  readonly repair: (repairs: readonly RepairKind[] | 'safe') => void;
  readonly waive: (subject: WaiverSubject, reason: string, until?: string) => void;
  readonly unwaive: (subject: WaiverSubject) => void;
  readonly undo: () => void;
  /** Takes back the last step though it is somebody else's. */
  readonly undoAnyones: () => void;
  readonly redo: () => void;
  /** Brings back the fit as it was at an earlier revision. */
  readonly restore: (revision: number) => void;
  readonly dismissProblem: () => void;
  /** Makes the refused changes again, on the fit as it is now. */
  readonly repeatRefused: () => void;
}

const Context = createContext<CharacterContextValue | null>(null);

export function useCharacter(): CharacterContextValue {
  const value = useContext(Context);
  if (!value) throw new Error('useCharacter is used outside a character page');
  return value;
}

/** One finding by its key, or all of a check. */
interface WaiverSubject {
  readonly finding?: string;
  readonly check?: string;
}

type Wish =
  | { readonly path: 'fit/changes'; readonly action: FitAction }
  | { readonly path: 'intake'; readonly change: Partial<IntakeDecisions> }
  | { readonly path: 'textures'; readonly files: readonly File[] }
  | { readonly path: 'fit/repairs'; readonly repairs: readonly RepairKind[] | 'safe' }
  | ({ readonly path: 'fit/waivers'; readonly reason: string; readonly until?: string } & WaiverSubject)
  | ({ readonly path: 'fit/waivers/back' } & WaiverSubject)
  | { readonly path: 'fit/restore'; readonly revision: number }
  | { readonly path: 'fit/undo'; readonly whose: 'own' | 'anyone' }
  | { readonly path: 'fit/redo' };

/** A wish on its way. Its id is the same each time it is sent, so that the server makes it once. */
type Request = Wish & { readonly changeId: string };

const RETRY_MS = 1500;

/** Holds the fit of one character; sends changes one after another, each on the revision the last answer brought. */
export function CharacterProvider({ character: given, children }: { character: CharacterView; children: ReactNode }) {
  const [{ character, fit }, setHeld] = useState({ character: given, fit: given.fit });
  const [save, setSave] = useState<SaveState>({ status: 'saved' });
  const revision = useRef(given.fit.revision);
  const readingKey = useRef(given.fit.readingKey);
  const queue = useRef<Request[]>([]);
  const refused = useRef<Request[]>([]);
  const isBusy = useRef(false);

  // A navigation may bring a newer character from the server than the one held here.
  const [seen, setSeen] = useState(given);
  if (given !== seen) {
    setSeen(given);
    if (given.fit.revision >= fit.revision) setHeld({ character: given, fit: given.fit });
  }
  useEffect(() => {
    revision.current = fit.revision;
    readingKey.current = fit.readingKey;
  }, [fit]);

  const work = useCallback(async () => {
    if (isBusy.current) return;
    isBusy.current = true;
    for (let request = queue.current[0]; request; request = queue.current[0]) {
      setSave({ status: 'saving' });
      const seenRevision = revision.current;
      const answer = await sayingWhy(send(given, request, seenRevision), (why) => setSave({ status: 'retrying', why }));
      if (answer.kind === 'offline') {
        // Nothing is lost while the server or its database is away: the change stays in the queue.
        setSave({ status: 'retrying', why: answer.why });
        await new Promise((resolve) => setTimeout(resolve, RETRY_MS));
        continue;
      }
      queue.current.shift();
      if (answer.fit) {
        const { fit: next } = answer;
        revision.current = next.revision;
        if (next.readingKey === readingKey.current) setHeld((held) => ({ ...held, fit: next }));
        else {
          // The fit speaks of another rig now: both arrive together or neither.
          const view = await fetchCharacter(given.id, given.definition.id);
          if (!view) {
            window.location.reload();
            return;
          }
          [revision.current, readingKey.current] = [view.fit.revision, view.fit.readingKey];
          setHeld((held) => ({ character: keepingModel(held.character, view), fit: view.fit }));
        }
      }
      if (answer.kind === 'refused') {
        // Undo and redo mean another step by now; what was asked for by name can be asked for again.
        refused.current =
          answer.problem.code === 'conflict'
            ? [request, ...queue.current].filter(({ path }) => path !== 'fit/undo' && path !== 'fit/redo')
            : [];
        queue.current = [];
        setSave({ status: 'failed', problem: answer.problem, canRepeat: refused.current.length > 0, seenRevision });
        isBusy.current = false;
        return;
      }
    }
    isBusy.current = false;
    setSave({ status: 'saved' });
  }, [given]);

  const push = useCallback(
    (wish: Wish) => {
      queue.current.push({ ...wish, changeId: newId() });
      void work();
    },
    [work],
  );

  useEffect(() => {
    const warn = (event: BeforeUnloadEvent) => {
      if (queue.current.length > 0) event.preventDefault();
    };
    window.addEventListener('beforeunload', warn);
    return () => window.removeEventListener('beforeunload', warn);
  }, []);

  const value = useMemo<CharacterContextValue>(
    () => ({
      character,
      definition: character.definition,
      profile: character.profile,
      fit,
      save,
      act: (action) => push({ path: 'fit/changes', action }),
      decide: (change) => push({ path: 'intake', change }),
      supply: (files) => push({ path: 'textures', files }),
      repair: (repairs) => push({ path: 'fit/repairs', repairs }),
      waive: (subject, reason, until) => push({ path: 'fit/waivers', ...subject, reason, ...(until && { until }) }),
      unwaive: (subject) => push({ path: 'fit/waivers/back', ...subject }),
      undo: () => push({ path: 'fit/undo', whose: 'own' }),
      undoAnyones: () => push({ path: 'fit/undo', whose: 'anyone' }),
      redo: () => push({ path: 'fit/redo' }),
      restore: (to) => push({ path: 'fit/restore', revision: to }),
      dismissProblem: () => setSave({ status: 'saved' }),
      repeatRefused: () => {
        const again = refused.current;
        refused.current = [];
        again.forEach(push);
      },
    }),
    [character, fit, save, push],
  );
  return <Context.Provider value={value}>{children}</Context.Provider>;
}

/** The newer view; what is equal of the model keeps its identity, so that the stage is not set up anew for it. */
function keepingModel(known: CharacterView, view: CharacterView): CharacterView {
  const isSame =
    known.modelHash === view.modelHash && JSON.stringify(known.normalisation) === JSON.stringify(view.normalisation);
  return isSame ? { ...view, rig: known.rig, normalisation: known.normalisation } : view;
}

/** An answer that takes longer than this is looked after: a person is told what it waits for. */
const SLOW_MS = 3_000;
const HEALTH_MS = 5_000;

/** @param say told what is away, where an answer is slow because of that. */
async function sayingWhy<Value>(answer: Promise<Value>, say: (why: 'server' | 'database') => void): Promise<Value> {
  let isHere = false;
  const timer = setTimeout(() => {
    const call = fetch('/api/health', { signal: AbortSignal.timeout(HEALTH_MS) }).then(
      async (response) => ((await response.json()) as { database?: string }).database !== 'there' && 'database',
      () => 'server' as const,
    );
    void call.then((why) => !isHere && why && say(why));
  }, SLOW_MS);
  try {
    return await answer;
  } finally {
    isHere = true;
    clearTimeout(timer);
  }
}

type Answer =
  | { readonly kind: 'done'; readonly fit: FitView }
  | { readonly kind: 'refused'; readonly fit: FitView | null; readonly problem: Problem }
  | { readonly kind: 'offline'; readonly why: 'server' | 'database' };

function bodyOf(
  request: Request,
  baseRevision: number,
  definitionId: string,
): { body: BodyInit; headers?: HeadersInit } {
  if (request.path === 'textures') {
    const body = new FormData();
    for (const file of request.files) body.append('file', file, file.name);
    return { body };
  }
  const { path: _path, ...content } = request;
  return {
    body: JSON.stringify({ baseRevision, definitionId, ...content }),
    headers: { 'content-type': 'application/json' },
  };
}

async function fetchCharacter(characterId: string, definition: string): Promise<CharacterView | null> {
  const params = { path: { characterId }, query: { definition } };
  const outcome = await outcomeOf(api.GET('/api/characters/{characterId}', { params }), 'character');
  return outcome.ok ? outcome.data : null;
}

/** Changes are of several kinds, and files among them: each is sent to the path that its kind names. */
async function send({ id, definition }: CharacterView, request: Request, baseRevision: number): Promise<Answer> {
  try {
    const response = await fetch(`/api/characters/${id}/${request.path}`, {
      method: 'POST',
      ...bodyOf(request, baseRevision, definition.id),
    });
    const answer = (await response.json()) as { fit?: FitView; error?: Problem };
    if (response.ok && answer.fit) return { kind: 'done', fit: answer.fit };
    if (answer.error?.code === 'database-away' || answer.error?.code === 'database-busy')
      return { kind: 'offline', why: 'database' };
    const problem = answer.error ?? {
      code: 'unexpected',
      message: `The server answered ${response.status}.`,
      place: 'fit',
      remedy: 'Reload the page.',
    };
    return { kind: 'refused', fit: answer.fit ?? null, problem };
  } catch {
    return { kind: 'offline', why: 'server' };
  }
}
