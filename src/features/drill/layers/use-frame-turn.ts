import { useEffect, useMemo, useState } from 'react';
import { fromAxisAngle, rotate, IDENTITY, type Quat } from '@/core/math/quat';
import { anyPerpendicular, normalise, reject, subtract, type Vec3 } from '@/core/math/vec3';
import { turnAt } from '@/core/layers/layer-stack';
import type { LayerOf } from '@/core/motion/layer';
import { newId } from '@/ui/new-id';
import type { TurnHandle } from '@/ui/stage/overlay-types';
import type { PaneView } from '@/ui/stage/projection';
import { signedDegrees } from '@/ui/text';
import type { DrillStance } from '@/workers/browser/drill.worker';
import { useCharacter } from '../../character/character-context';
import { useSelection } from '../../character/use-selection';
import type { Carried } from '../use-carried';
import type { PlayerHandle } from '../use-player';
import { keyedLayer, turnLayerOf, turnOnTop } from './layer-edits';

/** A turn that was made at a frame, and is not yet taken as anything. */
export interface FrameTurn {
  readonly role: string;
  readonly frame: number;
  readonly degrees: number;
  /** On top of the role, body axes of the reference; of it alone, without what the layer turned before. */
  readonly turn: Quat;
  /** The layer that it would make, with a key here. */
  readonly layer: LayerOf<'turn'>;
}

const VIEW_AXES: Readonly<Record<PaneView, Vec3>> = {
  front: [0, 0, 1],
  side: [1, 0, 0],
  top: [0, 1, 0],
  free: [0, 0, 0],
};
const STEP_DEGREES = 5;

/** Turning the bone in focus at the frame that stands. While a turn is shown nothing is saved. */
export function useFrameTurn(
  carried: Carried | null,
  handle: PlayerHandle,
  motionKey: string | null,
  [live, setLive]: readonly [FrameTurn | null, (live: FrameTurn | null) => void],
) {
  const { definition, fit } = useCharacter();
  const { bone, view } = useSelection();
  const [held, setHeld] = useState<{ readonly key: string; readonly stance: DrillStance } | null>(null);
  const stance = held?.stance ?? null;
  const [isDone, setDone] = useState(false);
  const { state: play } = handle;
  const frame = play && !play.isPlaying ? play.frame : null;
  const role =
    bone === null
      ? null
      : (Object.entries(fit.state.assignments).find(([, { boneIndex }]) => boneIndex === bone)?.[0] ?? null);
  const isWanted = carried !== null && frame !== null && role !== null && motionKey !== null && !fit.state.isClosed;
  useEffect(() => {
    // A stance with a turn shown is not the one that the next turn starts from.
    if (!isWanted || live) return;
    let isGone = false;
    const { key } = carried;
    carried.stance(frame).then(
      (next) => !isGone && setHeld({ key, stance: next }),
      () => undefined,
    );
    return () => {
      isGone = true;
    };
  }, [isWanted, carried, frame, live]);
  // Of what was carried before the last change the handle would stand elsewhere.
  const isNow = held !== null && held.key === carried?.key && held.stance.frame === frame;
  const isCurrent = isWanted && stance !== null && (isNow || live !== null);
  const axis = useMemo<Vec3 | null>(() => {
    if (!isCurrent || !stance || role === null) return null;
    if (view !== 'free') return VIEW_AXES[view];
    const hinge = definition.roles.find(({ id }) => id === role)?.hinge;
    const change = stance.changes[role];
    return hinge && change ? rotate(change, hinge) : null;
  }, [isCurrent, stance, role, view, definition]);
  const handles = useMemo<ReadonlyMap<PaneView, TurnHandle>>(() => {
    const centre = role === null ? undefined : stance?.places[role];
    if (!axis || !stance || role === null || !centre) return new Map();
    const below = definition.roles.find(({ parent, id }) => parent === role && stance.places[id]);
    const along = below ? subtract(stance.places[below.id], centre) : anyPerpendicular(axis);
    const across = normalise(reject(along, axis)) ?? anyPerpendicular(axis);
    const degrees = live?.degrees ?? 0;
    const text = degrees === 0 ? 'turn' : signedDegrees(degrees, true);
    return new Map([[view, { centre, axis, from: across, degrees, stepDegrees: STEP_DEGREES, text }]]);
  }, [axis, stance, role, view, live, definition]);

  const onTurn = (_view: PaneView, degrees: number, isOver: boolean): void => {
    if (!axis || !stance || role === null || motionKey === null || !carried) return;
    const { frameCount, framesPerSecond } = carried.info;
    const at = stance.frame / framesPerSecond;
    const known = turnLayerOf(fit.state.carrying.layers, role, motionKey);
    const before = known ? turnAt(known.keys, at) : IDENTITY;
    const world = fromAxisAngle(axis, (degrees * Math.PI) / 180);
    const change = stance.changes[role];
    const label = definition.roles.find(({ id }) => id === role)?.label ?? role;
    const fresh = { id: live?.layer.id ?? newId(), name: `${label} turned`, role, motion: motionKey };
    const turn = turnOnTop(before, change, world);
    setLive({
      role,
      frame: stance.frame,
      degrees,
      turn: turnOnTop(IDENTITY, change, world),
      layer: keyedLayer(known, fresh, { at, turn }, (frameCount - 1) / framesPerSecond),
    });
    setDone(isOver);
  };
  const drop = (): void => {
    setLive(null);
    setDone(false);
  };
  return { handles, onTurn, offer: isDone ? live : null, drop };
}
