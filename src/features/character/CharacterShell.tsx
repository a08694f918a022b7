'use client';

import Link from 'next/link';
import { usePathname } from 'next/navigation';
import { Redo2, Undo2 } from 'lucide-react';
import { Suspense, useEffect, useState, type ReactNode } from 'react';
import type { CharacterView } from '@/core/character/character-view';
import { ProblemNote } from '@/ui/ProblemNote';
import { momentText } from '@/ui/text';
import { Who } from '@/ui/Who';
import { CharacterProvider, useCharacter } from './character-context';

/** Top bar and steps around every page of one character. */
export function CharacterShell({ character, children }: { character: CharacterView; children: ReactNode }) {
  return (
    <CharacterProvider key={character.id} character={character}>
      <div className="flex h-full flex-col">
        <TopBar />
        <SaveProblem />
        <Suspense>
          <div className="min-h-0 flex-1">{children}</div>
        </Suspense>
      </div>
    </CharacterProvider>
  );
}

const STEPS = ['intake', 'match', 'posture', 'findings', 'handoff'] as const;

function TopBar() {
  const { character, fit, undo, redo } = useCharacter();
  const pathname = usePathname();
  const doubts = Object.values(fit.state.assignments).filter((assignment) => assignment.state === 'doubtful').length;
  const blockers = fit.findings.filter((finding) => finding.severity === 'blocker').length;
  const off = fit.deviations.filter((deviation) => deviation.alignment !== 'leave' && !deviation.isWithin).length;
  const hints: Record<(typeof STEPS)[number], { text: string; tone: string } | null> = {
    intake: null,
    match: doubts > 0 ? { text: `${doubts} ${doubts === 1 ? 'doubt' : 'doubts'}`, tone: 'text-warning' } : null,
    posture: { text: off > 0 ? `${off} off` : `${fit.posture.class === 'other' ? 'other pose' : `${fit.posture.class}-pose`}`, tone: off > 0 ? 'text-warning' : 'quiet' },
    findings: blockers > 0 ? { text: `${blockers} ${blockers === 1 ? 'blocker' : 'blockers'}`, tone: 'text-error' } : null,
    handoff: character.handoffs.length > 0 ? { text: `version ${character.handoffs[0].version}`, tone: 'quiet' } : null,
  };
  useUndoKeys(undo, redo);
  return (
    <header className="flex h-12 shrink-0 items-center gap-4 border-b border-base-300 bg-base-100 px-4">
      <Link href="/" className="text-lg font-semibold text-primary" title="Roster">yarvo</Link>
      <h1 className="min-w-0 truncate font-semibold">{character.name} <span className="quiet font-mono text-xs font-normal">{character.fileName}</span></h1>
      <nav aria-label="Steps" className="ml-2 flex items-center gap-1">
        {STEPS.map((step) => {
          const isHere = pathname.endsWith(`/${step}`);
          return (
            <Link key={step} href={`/characters/${character.id}/${step}`} aria-current={isHere ? 'step' : undefined} className={`rounded-field px-2.5 py-1.5 whitespace-nowrap hover:bg-base-200 ${isHere ? 'bg-(--accent-wash) font-semibold text-primary' : ''}`}>
              {step[0].toUpperCase() + step.slice(1)}
              {hints[step] && <span className={`ml-1.5 text-[13px] font-normal ${hints[step].tone}`}>{hints[step].text}</span>}
            </Link>
          );
        })}
      </nav>
      <div className="ml-auto flex items-center gap-1">
        <SavedMark />
        <button className="btn btn-ghost btn-sm btn-square" aria-label="Undo (Ctrl+Z)" title="Undo (Ctrl+Z)" disabled={!fit.canUndo} onClick={undo}><Undo2 aria-hidden className="size-4" /></button>
        <button className="btn btn-ghost btn-sm btn-square" aria-label="Redo (Ctrl+Shift+Z)" title="Redo (Ctrl+Shift+Z)" disabled={!fit.canRedo} onClick={redo}><Redo2 aria-hidden className="size-4" /></button>
        <Who />
      </div>
    </header>
  );
}

function useUndoKeys(undo: () => void, redo: () => void): void {
  useEffect(() => {
    const onKey = (event: KeyboardEvent) => {
      const target = event.target as HTMLElement;
      if (!(event.ctrlKey || event.metaKey) || /INPUT|TEXTAREA/.test(target.tagName)) return;
      const key = event.key.toLowerCase();
      if (key !== 'z' && key !== 'y') return;
      event.preventDefault();
      if (key === 'y' || event.shiftKey) redo();
      else undo();
    };
    window.addEventListener('keydown', onKey);
    return () => window.removeEventListener('keydown', onKey);
  }, [undo, redo]);
}

/** Whether everything is kept; opens the history. */
function SavedMark() {
  const { fit, save } = useCharacter();
  const [isOpen, setOpen] = useState(false);
  const text = save.status === 'saving' ? 'saving …' : save.status === 'retrying' ? 'not saved yet, retrying' : save.status === 'failed' ? 'not saved' : 'saved';
  return (
    <div className="relative">
      <button className={`btn btn-ghost btn-sm px-2 font-normal ${save.status === 'saved' ? 'quiet' : 'text-warning'}`} aria-expanded={isOpen} onClick={() => setOpen(!isOpen)}>
        <span aria-live="polite">{text}</span> <span className="text-[13px]">rev. {fit.revision}</span>
      </button>
      {isOpen && (
        <div className="absolute right-0 z-30 mt-1 max-h-96 w-80 overflow-auto rounded-box border border-base-300 bg-base-100 p-1 shadow-md">
          <h2 className="px-2 py-1 text-[13px] font-semibold">History</h2>
          <ol>
            {fit.history.map((entry) => (
              <li key={entry.revision} className="flex items-baseline gap-2 px-2 py-1 text-[13px]">
                <span className="quiet w-6 text-right tabular-nums">{entry.revision}</span>
                <span className="min-w-0 flex-1 truncate" title={entry.description}>{entry.description}</span>
                <span className="quiet whitespace-nowrap">{entry.author}, {momentText(entry.at)}</span>
              </li>
            ))}
          </ol>
        </div>
      )}
    </div>
  );
}

function SaveProblem() {
  const { save, dismissProblem, repeatRefused } = useCharacter();
  if (save.status !== 'failed') return null;
  return (
    <div className="flex items-center gap-3 border-b border-base-300 bg-base-200 p-2">
      <div className="min-w-0 flex-1"><ProblemNote problem={save.problem} onClose={dismissProblem} /></div>
      {save.canRepeat && <button className="btn btn-primary btn-sm" onClick={repeatRefused}>Make my change on it</button>}
    </div>
  );
}
