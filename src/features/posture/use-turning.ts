'use client';

import { useEffect, useMemo, useRef, useState } from 'react';
import { roleBonesOf } from '@/core/fit/fit';
import { sideOfRole } from '@/core/definition/definition';
import { turnRoles, type TurnAxis } from '@/core/posture/turn-roles';
import type { RigPose } from '@/core/rig/pose';
import { isPlainKey, useKeyDown } from '@/ui/use-key-down';
import { useCharacter } from '../character/character-context';
import { rolesToTurn, type TurnScope } from './turn-scope';

export interface Turning {
  readonly about: TurnAxis;
  readonly scope: TurnScope;
  readonly isBothSides: boolean;
  /** Degrees of one step. */
  readonly step: number;
  /** Roles that a turn takes along. */
  readonly roles: readonly string[];
  /** Degrees turned by a key that is still held. */
  readonly held: number;
  /** The pose as it would be if the key were let go. */
  readonly pose: RigPose;
  readonly set: (change: Partial<Pick<Turning, 'about' | 'scope' | 'isBothSides' | 'step'>>) => void;
  /** Turns by so many degrees, as one change. */
  readonly turn: (degrees: number) => void;
  readonly mirror: () => void;
}

/** Degrees that are shown beyond the fit, and those of them that are on their way to it, change by change. */
interface Shown {
  readonly held: number;
  readonly sent: readonly number[];
}
const NOTHING: Shown = { held: 0, sent: [] };

const START = { about: 'hinge', scope: 'role', isBothSides: false, step: 5 } as const;

/** Turning segments by step keys: what is shown while a key is held is what is saved when it is let go, as one change. */
export function useTurning(role: string | null): Turning {
  const { character, definition, fit, save, act } = useCharacter();
  const [choice, setChoice] = useState<Pick<Turning, 'about' | 'scope' | 'isBothSides' | 'step'>>(START);
  const [{ held, sent }, setShown] = useState<Shown>(NOTHING);
  const [seen, setSeen] = useState(fit.revision);
  // The answer to what was sent brings it in the fit itself; what is turned since then stays on top.
  if (fit.revision !== seen) {
    setSeen(fit.revision);
    const [answered = 0, ...waiting] = sent;
    setShown({ held: held - answered, sent: waiting });
  } else if (save.status === 'failed' && sent.length > 0) setShown(NOTHING);
  const { assignments, posture } = fit.state;
  const roles = useMemo(
    () =>
      role === null || !definition.roles.some(({ id }) => id === role)
        ? []
        : rolesToTurn(definition, role, choice.scope, choice.isBothSides, (id) => assignments[id] !== undefined),
    [definition, role, choice.scope, choice.isBothSides, assignments],
  );
  const pose = useMemo(() => {
    if (held === 0) return posture;
    const input = {
      rig: character.rig,
      definition,
      normalisation: character.normalisation,
      roleBones: roleBonesOf(fit.state),
    };
    return turnRoles(input, posture, { roles: new Set(roles), about: choice.about, radians: (held * Math.PI) / 180 });
  }, [held, posture, character, definition, fit.state, roles, choice.about]);

  const turn = (degrees: number) => {
    if (roles.length > 0 && degrees !== 0) act({ kind: 'turn-roles', roles: [...roles], about: choice.about, degrees });
  };
  const mirror = () => {
    const side = role === null ? null : sideOfRole(definition, role);
    if (side) act({ kind: 'mirror-posture', from: side, roles: [...roles] });
  };
  useKeyDown((event) => {
    if (roles.length === 0 || !isPlainKey(event)) return;
    if (event.key === 'ArrowLeft' || event.key === 'ArrowRight') {
      event.preventDefault();
      const step = event.key === 'ArrowRight' ? choice.step : -choice.step;
      setShown((shown) => ({ ...shown, held: shown.held + step }));
    } else if (event.key === 'm') {
      event.preventDefault();
      mirror();
    }
  });
  // The key that is let go ends the change, whatever is drawn by then.
  const unsent = held - sent.reduce((sum, degrees) => sum + degrees, 0);
  const latest = useRef({ unsent, turn });
  useEffect(() => {
    latest.current = { unsent, turn };
  });
  useEffect(() => {
    const end = () => {
      const { unsent: degrees, turn: make } = latest.current;
      if (degrees === 0) return;
      setShown((shown) => ({ ...shown, sent: [...shown.sent, degrees] }));
      make(degrees);
    };
    const onKeyUp = (event: KeyboardEvent) => {
      if (event.key === 'ArrowLeft' || event.key === 'ArrowRight') end();
    };
    window.addEventListener('keyup', onKeyUp);
    window.addEventListener('blur', end);
    return () => {
      window.removeEventListener('keyup', onKeyUp);
      window.removeEventListener('blur', end);
    };
  }, []);
  return { ...choice, roles, held: unsent, pose, set: (change) => setChoice({ ...choice, ...change }), turn, mirror };
}
