'use client';

import { useCallback, useMemo, useState } from 'react';
import {
  candidatesBelow,
  candidatesFor,
  clashingRoles,
  rolesToReview,
  type ReviewCandidate,
  type ReviewScope,
} from '@/core/fit/review';
import { isPlainKey, useKeyDown } from '@/ui/use-key-down';
import { useCharacter } from '../character/character-context';

export interface RunThrough {
  readonly role: string;
  /** Place in the run, from 0, and its length. */
  readonly at: number;
  readonly count: number;
  readonly candidates: readonly ReviewCandidate[];
  readonly highlighted: number;
  /** Bone whose children are listed; null for the ranked candidates. */
  readonly below: number | null;
  highlight(index: number): void;
  accept(): void;
  /** Puts any bone here and goes on. */
  take(bone: number): void;
  descend(): void;
  ascend(): void;
  leaveVacant(): void;
  skip(): void;
  back(): void;
  end(): void;
}

interface RunState {
  readonly roles: readonly string[];
  readonly at: number;
  readonly highlighted: number;
  /** Bones that were stepped into, outermost first. */
  readonly path: readonly number[];
}

const startAt = (roles: readonly string[], at: number): RunState => ({ roles, at, highlighted: 0, path: [] });

/** Goes through roles one by one; null while no run is on. */
export function useRunThrough(): { readonly run: RunThrough | null; readonly start: (scope: ReviewScope) => boolean } {
  const { character, definition, fit, act } = useCharacter();
  const [state, setState] = useState<RunState | null>(null);
  const start = useCallback(
    (scope: ReviewScope) => {
      const roles = rolesToReview(definition, fit.state, scope, clashingRoles(fit.findings));
      setState(roles.length > 0 ? startAt(roles, 0) : null);
      return roles.length > 0;
    },
    [definition, fit],
  );
  const run = useMemo<RunThrough | null>(() => {
    if (!state) return null;
    const { roles, at, highlighted, path } = state;
    const role = roles[at];
    const below = path[path.length - 1] ?? null;
    const candidates =
      below === null
        ? candidatesFor(role, fit.state, character.match)
        : candidatesBelow(below, character.rig, character.match);
    const goTo = (next: number) => setState(next >= roles.length ? null : startAt(roles, Math.max(0, next)));
    const take = (bone: number) => {
      const held = fit.state.assignments[role];
      if (held?.boneIndex !== bone) act({ kind: 'assign', role, boneIndex: bone });
      else if (held.state !== 'settled') act({ kind: 'settle', roles: [role] });
      goTo(at + 1);
    };
    const chosen = candidates[highlighted];
    return {
      role,
      at,
      count: roles.length,
      candidates,
      highlighted,
      below,
      highlight: (index) => setState({ ...state, highlighted: Math.max(0, Math.min(candidates.length - 1, index)) }),
      accept: () => {
        if (chosen) take(chosen.boneIndex);
      },
      take,
      descend: () => {
        if (chosen && character.rig.bones.some((bone) => bone.parent === chosen.boneIndex))
          setState({ ...state, path: [...path, chosen.boneIndex], highlighted: 0 });
      },
      ascend: () => setState({ ...state, path: path.slice(0, -1), highlighted: 0 }),
      leaveVacant: () => {
        if (!fit.state.leftVacant.includes(role)) act({ kind: 'leave-vacant', role });
        goTo(at + 1);
      },
      skip: () => goTo(at + 1),
      back: () => goTo(at - 1),
      end: () => setState(null),
    };
  }, [state, fit, character, act]);
  return { run, start };
}

/** Keys of a run; they go before those of the screen. */
export function useRunKeys(run: RunThrough | null, findBone: () => void): void {
  useKeyDown((event) => {
    if (!run || !isPlainKey(event)) return;
    const action = (
      {
        Enter: run.accept,
        ArrowDown: () => run.highlight(run.highlighted + 1),
        ArrowUp: () => run.highlight(run.highlighted - 1),
        ArrowRight: run.descend,
        ArrowLeft: run.ascend,
        Backspace: run.back,
        Escape: run.end,
        v: run.leaveVacant,
        s: run.skip,
        '/': findBone,
      } as Readonly<Record<string, () => void>>
    )[event.key];
    if (!action) return;
    event.preventDefault();
    event.stopPropagation();
    action();
  }, true);
}
