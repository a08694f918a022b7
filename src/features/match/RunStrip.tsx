'use client';

import { useEffect, useRef } from 'react';
import { roleOf } from '@/core/definition/definition';
import { PROPOSED_THRESHOLD } from '@/core/match/verdict/confidence';
import { ConfidenceBar } from '@/ui/ConfidenceBar';
import { Key } from '@/ui/Key';
import { capitalised, percentText } from '@/ui/text';
import { useCharacter } from '../character/character-context';
import type { RunThrough } from './use-run-through';

/** One role of a run: its candidates with what speaks for them, and the keys that decide. */
export function RunStrip({ run, onFind }: { run: RunThrough; onFind: () => void }) {
  const { character, definition, fit } = useCharacter();
  const { rig } = character;
  const role = roleOf(definition, run.role);
  const state =
    fit.state.assignments[run.role]?.state ?? (fit.state.leftVacant.includes(run.role) ? 'left vacant' : 'vacant');
  const list = useRef<HTMLOListElement>(null);
  useEffect(() => {
    list.current?.children[run.highlighted]?.scrollIntoView({ block: 'nearest' });
  }, [run.highlighted]);
  return (
    <section
      aria-label="Review"
      className="grid h-[148px] grid-cols-[9.5rem_minmax(0,1fr)_12.5rem] gap-4 border-y border-primary/40 bg-base-100 px-4 py-2"
    >
      <div aria-live="polite">
        <p className="quiet text-[13px] tabular-nums">
          Role {run.at + 1} of {run.count}
        </p>
        <h2 className="text-lg leading-tight font-semibold">{role.label}</h2>
        <p className={`text-[13px] ${state === 'doubtful' ? 'text-warning' : 'quiet'}`}>
          {capitalised(state)}
          {role.required ? ', required' : ', optional'}
        </p>
        <progress
          className="progress mt-1.5 h-1 w-full progress-primary"
          aria-label="Progress of the review"
          value={run.at}
          max={run.count}
        />
      </div>
      <div className="min-h-0 overflow-auto">
        {run.below !== null && (
          <p className="quiet text-[13px]">
            Below <span className="font-mono">{rig.bones[run.below].name}</span>
          </p>
        )}
        {run.candidates.length === 0 && (
          <p className="quiet pt-2">
            No bone was found for this role. Leave it vacant, find its bone by name, or make one: pick the bone below it
            and <em>Insert a joint above</em>.
          </p>
        )}
        <ol ref={list} role="listbox" aria-label="Candidates">
          {run.candidates.map((candidate, index) => (
            <li
              key={candidate.boneIndex}
              role="option"
              aria-selected={index === run.highlighted}
              className={`flex min-w-0 cursor-pointer items-center gap-2.5 rounded-field px-2 py-0.5 text-[13px] ${index === run.highlighted ? 'bg-(--accent-wash) outline outline-primary/50' : 'hover:bg-base-200'}`}
              onClick={() => run.take(candidate.boneIndex)}
              onPointerEnter={() => run.highlight(index)}
            >
              <span className="w-32 shrink-0 truncate font-mono font-semibold xl:w-40">
                {rig.bones[candidate.boneIndex].name}
              </span>
              {candidate.confidence !== null && (
                <span className="hidden xl:block">
                  <ConfidenceBar
                    value={candidate.confidence}
                    isDoubtful={candidate.confidence < PROPOSED_THRESHOLD}
                    width={48}
                  />
                </span>
              )}
              <span className="w-10 shrink-0 text-right tabular-nums">
                {candidate.confidence === null ? '' : percentText(candidate.confidence)}
              </span>
              <span
                className={`quiet min-w-0 ${index === run.highlighted ? 'leading-tight' : 'truncate'}`}
                title={candidate.evidence.join(' · ')}
              >
                {candidate.evidence.join(' · ')}
              </span>
            </li>
          ))}
        </ol>
      </div>
      <ul className="grid content-start gap-x-2 gap-y-0.5 text-[13px]">
        <RunKey keys={['Enter']} onClick={run.accept}>
          Accept
        </RunKey>
        <RunKey keys={['↑', '↓']} onClick={() => run.highlight(run.highlighted + 1)}>
          Next best
        </RunKey>
        <RunKey keys={['→', '←']} onClick={run.descend}>
          Into its children, out
        </RunKey>
        <RunKey keys={['/']} onClick={onFind}>
          Find by name
        </RunKey>
        <li className="flex flex-wrap gap-x-3">
          <RunButton k="V" onClick={run.leaveVacant}>
            Vacant
          </RunButton>
          <RunButton k="S" onClick={run.skip}>
            Skip
          </RunButton>
        </li>
        <li className="flex flex-wrap gap-x-3">
          <RunButton k="Backspace" onClick={run.back}>
            Back
          </RunButton>
          <RunButton k="Esc" onClick={run.end}>
            End
          </RunButton>
        </li>
      </ul>
    </section>
  );
}

function RunKey({ keys, onClick, children }: { keys: readonly string[]; onClick: () => void; children: string }) {
  return (
    <li>
      <button className="flex items-center gap-1.5 hover:text-primary" onClick={onClick}>
        {keys.map((key) => (
          <Key key={key}>{key}</Key>
        ))}{' '}
        {children}
      </button>
    </li>
  );
}

function RunButton({ k, onClick, children }: { k: string; onClick: () => void; children: string }) {
  return (
    <button className="flex items-center gap-1.5 hover:text-primary" onClick={onClick}>
      <Key>{k}</Key> {children}
    </button>
  );
}
