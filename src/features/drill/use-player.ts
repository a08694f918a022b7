'use client';

import { useCallback, useEffect, useMemo, useRef, useState } from 'react';
import { frameClock } from '@/ui/stage/frame-clock';
import { Player, type PlayState, type ShownFrame } from './player';
import type { Carried } from './use-carried';

type Listener = (shown: ShownFrame) => void;

export interface PlayerHandle {
  readonly player: Player | null;
  readonly state: PlayState | null;
  /** Hears of every frame that is shown; at once of the one that stands. Returns how it stops. */
  readonly onFrame: (listener: Listener) => () => void;
}

/**
 * A player for what was carried. When it is made again the new one goes on where the old one was.
 * @param start what the address says: where another motion starts.
 */
export function usePlayer(carried: Carried | null, start: Partial<PlayState>): PlayerHandle {
  const listeners = useRef(new Set<Listener>());
  const shown = useRef<ShownFrame | null>(null);
  const [held, setHeld] = useState<{ player: Player; state: PlayState } | null>(null);
  const before = useRef<{ motionId: string; state: PlayState } | null>(null);
  const latest = useRef(start);
  useEffect(() => {
    latest.current = start;
  }, [start]);
  useEffect(() => {
    if (!carried) return;
    const { info, fetch, motionId } = carried;
    const old = before.current?.motionId === motionId ? before.current.state : null;
    const player: Player = new Player(info.frameCount, info.framesPerSecond, old ?? latest.current, {
      fetch,
      draw: (frame) => {
        shown.current = frame;
        for (const listener of listeners.current) listener(frame);
      },
      changed: () => {
        before.current = { motionId, state: player.current };
        setHeld({ player, state: player.current });
      },
      request: (callback) => frameClock.request(callback),
      now: () => performance.now(),
    });
    before.current = { motionId, state: player.current };
    setHeld({ player, state: player.current });
    if (old?.isPlaying) player.play();
    return () => {
      shown.current = null;
      player.dispose();
    };
  }, [carried]);
  const onFrame = useCallback((listener: Listener) => {
    listeners.current.add(listener);
    if (shown.current) listener(shown.current);
    return () => {
      listeners.current.delete(listener);
    };
  }, []);
  return useMemo(() => ({ player: held?.player ?? null, state: held?.state ?? null, onFrame }), [held, onFrame]);
}
