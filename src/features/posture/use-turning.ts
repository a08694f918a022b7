'use client';

import { useEffect, useMemo, useRef, useState } from 'react';
import { sideOfRole } from '@/core/definition/definition';
import { turnRoles, type TurnAxis } from '@/core/posture/turn-roles';
import type { RigPose } from '@/core/rig/pose';
import { isPlainKey, useKeyDown } from '@/ui/use-key-down';
import { useCharacter } from '../character/character-context';
import { rolesToTurn, type TurnScope } from './turn-scope';
import { useAlignInput } from './use-align-input';

interface TurnChoice {
  readonly about: TurnAxis;
  readonly scope: TurnScope;
  readonly isBothSides: boolean;
  /** Degrees of one step. */
  readonly step: number;
}

/** A turn that is shown before the fit has it. */
interface ShownTurn {
  readonly about: TurnAxis;
  readonly roles: readonly string[];
  readonly degrees: number;
}

export interface Turning extends TurnChoice {
  /** Roles that a turn takes along. */
  readonly roles: readonly string[];
  /** The turn that goes on while a key is held or a handle is dragged. */
  readonly live: ShownTurn | null;
  /** The pose before the turn that goes on. */
  readonly base: RigPose;
  /** The pose as it would be if the turn ended now. */
  readonly pose: RigPose;
  readonly set: (change: Partial<TurnChoice>) => void;
  /** Turns by so many degrees, as one change. */
  readonly turn: (degrees: number) => void;
  /** A handle is dragged to so many degrees from where it was; one change once it is let go. */
  readonly drag: (about: TurnAxis, degrees: number, isDone: boolean) => void;
  readonly mirror: () => void;
}

interface Shown {
  /** On their way to the fit, in order: each answer brings the first of them. */
  readonly sent: readonly ShownTurn[];
  readonly live: ShownTurn | null;
}
const NOTHING: Shown = { sent: [], live: null };

const START: TurnChoice = { about: 'hinge', scope: 'role', isBothSides: false, step: 5 };

/**
 * Turning segments by step keys, by numbers and by handles: what is shown while a turn goes on is what is saved when it
 * ends, as one change.
 *
 * @param picked roles that are picked; the first is the one the handles stand at.
 */
export function useTurning(picked: readonly string[]): Turning {
  const { definition, fit, save, act } = useCharacter();
  const input = useAlignInput();
  const [choice, setChoice] = useState<TurnChoice>(START);
  const [{ sent, live }, setShown] = useState<Shown>(NOTHING);
  const [seen, setSeen] = useState(fit.revision);
  if (fit.revision !== seen) {
    setSeen(fit.revision);
    setShown({ sent: sent.slice(1), live });
  } else if (save.status === 'failed' && sent.length > 0) setShown(NOTHING);
  const { assignments, posture } = fit.state;
  const roles = useMemo(() => {
    const known = picked.filter((role) => definition.roles.some(({ id }) => id === role));
    const isMapped = (id: string) => assignments[id] !== undefined;
    return [
      ...new Set(known.flatMap((role) => rolesToTurn(definition, role, choice.scope, choice.isBothSides, isMapped))),
    ];
  }, [definition, picked, choice.scope, choice.isBothSides, assignments]);
  const base = useMemo(
    () => sent.reduce<RigPose>((pose, turn) => turnRoles(input, pose, asTurn(turn)), posture),
    [sent, posture, input],
  );
  const pose = useMemo(() => (live ? turnRoles(input, base, asTurn(live)) : base), [live, base, input]);

  const send = (turn: ShownTurn) => {
    if (turn.roles.length === 0 || turn.degrees === 0) return;
    setShown((shown) => ({ sent: [...shown.sent, turn], live: null }));
    act({ kind: 'turn-roles', roles: [...turn.roles], about: turn.about, degrees: turn.degrees });
  };
  const drag = (about: TurnAxis, degrees: number, isDone: boolean) => {
    const turn = { about, roles: live?.roles ?? roles, degrees };
    if (isDone && degrees !== 0) send(turn);
    else setShown((shown) => ({ ...shown, live: isDone ? null : turn }));
  };
  const mirror = () => {
    const side = picked.length > 0 ? sideOfRole(definition, picked[0]) : null;
    if (side) act({ kind: 'mirror-posture', from: side, roles: [...roles] });
  };
  useKeyDown((event) => {
    if (roles.length === 0 || !isPlainKey(event)) return;
    if (event.key === 'ArrowLeft' || event.key === 'ArrowRight') {
      event.preventDefault();
      const step = event.key === 'ArrowRight' ? choice.step : -choice.step;
      // A key that repeats before anything is drawn must count each time.
      setShown((shown) => ({
        ...shown,
        live: { about: choice.about, roles, degrees: (shown.live?.degrees ?? 0) + step },
      }));
    } else if (event.key === 'm') {
      event.preventDefault();
      mirror();
    }
  });
  useEndOfKeys(live, send);
  return {
    ...choice,
    roles,
    live,
    base,
    pose,
    set: (change) => setChoice({ ...choice, ...change }),
    turn: (degrees) => send({ about: choice.about, roles, degrees }),
    drag,
    mirror,
  };
}

const asTurn = ({ about, roles, degrees }: ShownTurn) => ({
  roles: new Set(roles),
  about,
  radians: (degrees * Math.PI) / 180,
});

/** The key that is let go ends the change, whatever is drawn by then. */
function useEndOfKeys(live: ShownTurn | null, send: (turn: ShownTurn) => void): void {
  const latest = useRef({ live, send });
  useEffect(() => {
    latest.current = { live, send };
  });
  useEffect(() => {
    const end = () => {
      if (latest.current.live) latest.current.send(latest.current.live);
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
}
