'use client';

import Link from 'next/link';
import { usePathname, useRouter, useSearchParams } from 'next/navigation';
import { Archive, Keyboard, Lock, Redo2, Search, Undo2 } from 'lucide-react';
import { Suspense, useState, type ReactNode } from 'react';
import type { CharacterView, FitView } from '@/contract/character-view';
import { clashingRoles, doubtsOf } from '@/core/fit/review';
import type { Problem } from '@/core/errors/yarvo-error';
import { setArchived } from '@/ui/archive-requests';
import { ProblemNote } from '@/ui/ProblemNote';
import { isTyping, useKeyDown } from '@/ui/use-key-down';
import { Who } from '@/ui/Who';
import { CharacterProvider, useCharacter, type SaveState } from './character-context';
import { FindBox } from './FindBox';
import { HistoryPanel } from './HistoryPanel';
import { KeysPanel } from './KeysPanel';
import { DefinitionList } from './DefinitionList';
import { stepAddress } from './step-address';
import { useFitTo, type FitTo } from './use-fit-to';

/** Top bar and steps around every page of one character. */
export function CharacterShell({ character: given, children }: { character: CharacterView; children: ReactNode }) {
  const wanted = useSearchParams().get('definition');
  const shown = useFitTo(given, wanted);
  if (shown.status !== 'ready') return <NoFitYet character={given} shown={shown} />;
  const { character } = shown;
  return (
    <CharacterProvider key={`${character.id} ${character.definition.id}`} character={character}>
      <div className="flex h-full flex-col">
        <TopBar />
        <ArchivedBand />
        <ClosedBand />
        <SaveProblem />
        <Suspense>
          <div className="min-h-0 flex-1">
            <StepOrNoSkeleton>{children}</StepOrNoSkeleton>
          </div>
        </Suspense>
      </div>
    </CharacterProvider>
  );
}

/** Steps that need bones say what a mesh without any is, and offer nothing that cannot be done. */
function StepOrNoSkeleton({ children }: { children: ReactNode }) {
  const { character } = useCharacter();
  const pathname = usePathname();
  if (character.rig.bones.length > 0 || pathname.endsWith('/intake')) return children;
  return (
    <main className="grid h-full place-content-center justify-items-center gap-2 text-center">
      <p className="text-base font-semibold">{character.name} is a mesh without a skeleton.</p>
      <p className="quiet max-w-md text-[13px]">
        There is no bone to match, pose, drill or hand off. Add the same character with its skeleton and skin weights;
        on Intake, a mesh can be joined to a skeleton that came in another file.
      </p>
      <Link className="link link-primary" href={`/characters/${character.id}/intake`}>
        What the file holds
      </Link>
    </main>
  );
}

/** While another fit is fetched, or where there is none to the definition in the address. */
function NoFitYet({ character, shown }: { character: CharacterView; shown: Exclude<FitTo, { status: 'ready' }> }) {
  return (
    <div className="grid h-full place-content-center gap-2 text-center">
      {shown.status === 'loading' ? (
        <p role="status">
          Opening the fit of {character.name} to {shown.label} …
        </p>
      ) : (
        <>
          <p role="alert">
            {character.name} has no fit to {shown.label}.
          </p>
          <Link className="link link-primary" href={`/characters/${character.id}/match`}>
            Open its fit to {character.definition.label}
          </Link>
        </>
      )}
    </div>
  );
}

const STEPS = ['intake', 'match', 'posture', 'drill', 'findings', 'handoff'] as const;

function TopBar() {
  const { character, fit, undo, redo } = useCharacter();
  const pathname = usePathname();
  const doubts = doubtsOf(character.definition, fit.state, clashingRoles(fit.findings)).length;
  const blockers = fit.findings.filter((finding) => finding.severity === 'blocker').length;
  const off = fit.deviations.filter(({ isWithin }) => !isWithin).length;
  const hints: Record<(typeof STEPS)[number], { text: string; tone: string } | null> = {
    intake: null,
    match: doubts > 0 ? { text: `${doubts} ${doubts === 1 ? 'doubt' : 'doubts'}`, tone: 'text-warning' } : null,
    posture: character.rig.bones.length > 0 ? postureHint(off, fit.posture.class) : null,
    drill: null,
    findings:
      blockers > 0 ? { text: `${blockers} ${blockers === 1 ? 'blocker' : 'blockers'}`, tone: 'text-error' } : null,
    handoff: character.handoffs.length > 0 ? { text: `version ${character.handoffs[0].version}`, tone: 'quiet' } : null,
  };
  const [box, setBox] = useState<'keys' | 'find' | null>(null);
  useUndoKeys(undo, redo);
  useBoxKeys(setBox);
  return (
    <header className="flex h-12 shrink-0 items-center gap-4 border-b border-base-300 bg-base-100 px-4 print:hidden">
      <Link href="/" className="text-lg font-semibold text-primary" title="Roster">
        yarvo
      </Link>
      <h1 className="min-w-0 truncate font-semibold">
        {character.name} <span className="quiet font-mono text-xs font-normal">{character.fileName}</span>
      </h1>
      <DefinitionList />
      <nav aria-label="Steps" className="ml-2 flex items-center gap-1">
        {STEPS.map((step) => {
          const isHere = pathname.endsWith(`/${step}`);
          return (
            <Link
              key={step}
              href={stepAddress(character, step)}
              aria-current={isHere ? 'step' : undefined}
              className={`rounded-field px-2.5 py-1.5 whitespace-nowrap hover:bg-base-200 ${isHere ? 'bg-(--accent-wash) font-semibold text-primary' : ''}`}
            >
              {step[0].toUpperCase() + step.slice(1)}
              {hints[step] && (
                <span className={`ml-1.5 text-[13px] font-normal ${hints[step].tone}`}>{hints[step].text}</span>
              )}
            </Link>
          );
        })}
      </nav>
      <div className="ml-auto flex items-center gap-1">
        <button
          className="btn btn-square btn-ghost btn-sm"
          aria-label="Find a role, bone, character or action (Ctrl+K)"
          title="Find anything (Ctrl+K)"
          onClick={() => setBox('find')}
        >
          <Search aria-hidden className="size-4" />
        </button>
        <button
          className="btn btn-square btn-ghost btn-sm"
          aria-label="Keys of this screen (?)"
          title="Keys of this screen (?)"
          aria-expanded={box === 'keys'}
          onClick={() => setBox(box === 'keys' ? null : 'keys')}
        >
          <Keyboard aria-hidden className="size-4" />
        </button>
        <SavedMark />
        <button
          className="btn btn-square btn-ghost btn-sm"
          aria-label="Undo (Ctrl+Z)"
          title="Undo (Ctrl+Z)"
          disabled={!fit.canUndo}
          onClick={undo}
        >
          <Undo2 aria-hidden className="size-4" />
        </button>
        <button
          className="btn btn-square btn-ghost btn-sm"
          aria-label="Redo (Ctrl+Shift+Z)"
          title="Redo (Ctrl+Shift+Z)"
          disabled={!fit.canRedo}
          onClick={redo}
        >
          <Redo2 aria-hidden className="size-4" />
        </button>
        <Who />
      </div>
      {box === 'keys' && (
        <KeysPanel
          screen={STEPS.find((step) => pathname.endsWith(`/${step}`)) ?? 'match'}
          onClose={() => setBox(null)}
        />
      )}
      {box === 'find' && <FindBox onClose={() => setBox(null)} />}
    </header>
  );
}

const postureHint = (off: number, kind: FitView['posture']['class']): { text: string; tone: string } =>
  off > 0
    ? { text: `${off} off`, tone: 'text-warning' }
    : { text: kind === 'other' ? 'Other pose' : `${kind}-pose`, tone: 'quiet' };

function useUndoKeys(undo: () => void, redo: () => void): void {
  useKeyDown((event) => {
    // A list keeps no text of its own that could be undone.
    if (!(event.ctrlKey || event.metaKey) || (isTyping(event) && !(event.target instanceof HTMLSelectElement))) return;
    const key = event.key.toLowerCase();
    if (key !== 'z' && key !== 'y') return;
    event.preventDefault();
    if (key === 'y' || event.shiftKey) redo();
    else undo();
  });
}

function useBoxKeys(open: (box: 'keys' | 'find') => void): void {
  useKeyDown((event) => {
    const box =
      (event.ctrlKey || event.metaKey) && event.key.toLowerCase() === 'k'
        ? 'find'
        : event.key === '?' && !isTyping(event)
          ? 'keys'
          : null;
    if (!box) return;
    event.preventDefault();
    open(box);
  });
}

/** An archived character can be looked at; to change it, it is restored. */
function ArchivedBand() {
  const { character } = useCharacter();
  const router = useRouter();
  const [problem, setProblem] = useState<Problem | null>(null);
  if (!character.isArchived) return null;
  const restore = async () => {
    const failure = await setArchived([character.id], false);
    setProblem(failure);
    if (!failure) router.refresh();
  };
  return (
    <div className="border-b border-base-300 bg-(--accent-wash) px-4 py-1.5">
      <p className="flex items-center gap-3">
        <Archive aria-hidden className="size-4" />
        This character is archived: it can be looked at, not changed.
        <button className="btn ml-auto btn-primary btn-sm" onClick={() => void restore()}>
          Restore
        </button>
      </p>
      {problem && <ProblemNote problem={problem} onClose={() => setProblem(null)} />}
    </div>
  );
}

/** A closed fit says so on every step, and how it is opened again. */
function ClosedBand() {
  const { fit, act } = useCharacter();
  const [reason, setReason] = useState('');
  if (!fit.state.isClosed) return null;
  const canReopen = reason.trim().length >= 3;
  return (
    <form
      className="flex items-center gap-3 border-b border-base-300 bg-(--accent-wash) px-4 py-1.5"
      onSubmit={(event) => {
        event.preventDefault();
        if (canReopen) {
          act({ kind: 'reopen', reason: reason.trim() });
          setReason('');
        }
      }}
    >
      <p>
        <Lock aria-hidden className="mr-1.5 inline size-4" />
        This fit is closed: it can be looked at and handed off, not changed.
      </p>
      <input
        aria-label="Reason for reopening"
        className="input ml-auto w-72 input-sm"
        placeholder="Why it is opened again"
        maxLength={200}
        value={reason}
        onChange={(event) => setReason(event.target.value)}
      />
      <button className="btn btn-primary btn-sm" disabled={!canReopen}>
        Reopen
      </button>
    </form>
  );
}

/** Whether everything is kept; opens the history. */
function SavedMark() {
  const { fit, save } = useCharacter();
  const [isOpen, setOpen] = useState(false);
  const text = savedText(save);
  return (
    <div className="relative">
      <button
        className={`btn btn-ghost px-2 font-normal btn-sm ${save.status === 'saved' ? 'quiet' : 'text-warning'}`}
        aria-expanded={isOpen}
        title="History"
        onClick={() => setOpen(!isOpen)}
      >
        <span aria-live="polite">{text}</span>{' '}
        <span className="text-[13px] whitespace-nowrap">rev. {fit.revision}</span>
      </button>
      {isOpen && <HistoryPanel onClose={() => setOpen(false)} />}
    </div>
  );
}

function savedText(save: SaveState): string {
  switch (save.status) {
    case 'saved':
      return 'Saved';
    case 'saving':
      return 'Saving …';
    case 'failed':
      return 'Not saved';
    case 'retrying':
      return save.why === 'database' ? 'Not saved yet, waiting for the database' : 'Not saved yet, retrying';
    default:
      return save satisfies never;
  }
}

function SaveProblem() {
  const { fit, save, dismissProblem, repeatRefused, undoAnyones } = useCharacter();
  if (save.status !== 'failed') return null;
  const news =
    save.problem.code === 'conflict' ? fit.history.filter(({ revision }) => revision > save.seenRevision) : [];
  return (
    <div className="flex items-center gap-3 border-b border-base-300 bg-base-200 p-2">
      <div className="min-w-0 flex-1">
        <ProblemNote problem={save.problem} onClose={dismissProblem} />
        {news.length > 0 && (
          <p className="truncate px-3 pt-1 text-[13px]">
            Meanwhile:{' '}
            {news
              .slice(0, 4)
              .map(({ description, author }) => `${description} (${author})`)
              .join('; ')}
            {news.length > 4 && ` and ${news.length - 4} more, in the history`}.
          </p>
        )}
      </div>
      {save.problem.code === 'not-yours' && (
        <button className="btn btn-primary btn-sm" onClick={undoAnyones}>
          Undo it all the same
        </button>
      )}
      {save.canRepeat && (
        <button className="btn btn-primary btn-sm" onClick={repeatRefused}>
          Reapply my change
        </button>
      )}
    </div>
  );
}
