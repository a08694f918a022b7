import { wrap, type Remote } from 'comlink';
import { useCallback, useEffect, useRef, useState } from 'react';
import type { Problem } from '@/core/errors/yarvo-error';
import { drillLimitsOf } from '@/core/profile/profile';
import type { StageView } from '@/ui/stage/stage-view';
import { isTyping } from '@/ui/use-key-down';
import { frameClock } from '@/ui/stage/frame-clock';
import type { DrillJudged } from '@/workers/browser/drill-judged';
import type { DrillTarget } from '@/workers/browser/drill.worker';
import type { LiveInfo, LiveShown, LiveWanted, LiveWorkerApi } from '@/workers/browser/live.worker';
import { useCharacter } from '../../character/character-context';
import { playedFigure } from '../played-figure';
import { inputOfKeys, inputOfPad, liveKey } from './live-input';

const NO_PLACES = new Float32Array(0);

export interface Live {
  readonly info: LiveInfo | null;
  readonly problem: Problem | null;
  /** What the last ten seconds were measured to; null before anybody asked. */
  readonly judged: DrillJudged | null;
  readonly judge: () => void;
  /** Plays what is steered on a stage. */
  readonly attach: (stage: StageView) => () => void;
  /** Hears of every frame. */
  readonly onShown: (listener: (shown: LiveShown) => void) => () => void;
}

/** Steers by keyboard and gamepad while it is mounted. @param wanted null while nothing is to be steered. */
export function useLive(wanted: LiveWanted | null, target: DrillTarget | null, key: string): Live {
  const { profile, fit, character } = useCharacter();
  const [opened, setOpened] = useState<{
    readonly key: string;
    readonly info: LiveInfo | null;
    readonly problem: Problem | null;
  } | null>(null);
  const [judged, setJudged] = useState<DrillJudged | null>(null);
  const worker = useRef<Remote<LiveWorkerApi> | null>(null);
  const stage = useRef<StageView | null>(null);
  const listeners = useRef(new Set<(shown: LiveShown) => void>());
  const keys = useRef({ held: new Set<string>(), isShift: false });
  const isOn = wanted !== null && target !== null;
  const request = useRef({ wanted, target });
  useEffect(() => {
    request.current = { wanted, target };
  }, [wanted, target]);
  const hips = fit.state.assignments.hips?.boneIndex ?? 0;
  const { bones } = character.rig;

  useEffect(() => {
    const { wanted: motions, target: to } = request.current;
    if (!isOn || !motions || !to) return;
    const thread = new Worker(new URL('../../../workers/browser/live.worker.ts', import.meta.url), { type: 'module' });
    const api = wrap<LiveWorkerApi>(thread);
    worker.current = api;
    let isGone = false;
    let [last, isBusy] = [performance.now(), false];
    const draw = (info: LiveInfo, shown: LiveShown): void => {
      for (const listener of listeners.current) listener(shown);
      const at = (k: number): number => shown.points[hips * 3 + k];
      stage.current?.play({
        ...playedFigure(info, shown, 0),
        points: shown.points,
        companions: [],
        guests: [],
        bearing: NO_PLACES,
        capsule: null,
        hips: [at(0), at(1), at(2)],
        rise: 0,
        follows: true,
      });
    };
    const tick = (info: LiveInfo) => (): void => {
      if (isGone) return;
      frameClock.request(next);
      if (isBusy) return;
      const now = performance.now();
      const pad = navigator.getGamepads?.().find((each) => each !== null);
      const input = (pad && inputOfPad(pad)) ?? inputOfKeys(keys.current.held, keys.current.isShift);
      isBusy = true;
      const dt = (now - last) / 1000;
      last = now;
      api.step(dt, input).then(
        (shown) => {
          isBusy = false;
          if (!isGone) draw(info, shown);
        },
        (error: Error) => {
          // It would fail at every frame of the screen: a person is told once, and it is not asked again.
          if (isGone) return;
          frameClock.cancel(next);
          setOpened({ key, info: null, problem: stumbled(error) });
        },
      );
    };
    let next: () => void = () => undefined;
    void api.open(motions, to).then((answer) => {
      if (isGone) return;
      setOpened({ key, info: answer.ok ? answer.info : null, problem: answer.ok ? null : answer.problem });
      if (!answer.ok) return;
      next = tick(answer.info);
      next();
    });
    return () => {
      isGone = true;
      frameClock.cancel(next);
      thread.terminate();
      worker.current = null;
    };
  }, [isOn, key, hips, bones.length]);

  useEffect(() => {
    if (!isOn) return;
    const set = (event: KeyboardEvent, isDown: boolean): void => {
      keys.current.isShift = event.shiftKey;
      const own = liveKey(event.key);
      if (own === null || event.ctrlKey || event.metaKey || event.altKey || isTyping(event)) return;
      if (isDown) keys.current.held.add(own);
      else keys.current.held.delete(own);
      event.preventDefault();
      event.stopPropagation();
    };
    const down = (event: KeyboardEvent) => set(event, true);
    const up = (event: KeyboardEvent) => set(event, false);
    const { held } = keys.current;
    const letGo = () => held.clear();
    window.addEventListener('keydown', down, true);
    window.addEventListener('keyup', up, true);
    window.addEventListener('blur', letGo);
    return () => {
      held.clear();
      window.removeEventListener('keydown', down, true);
      window.removeEventListener('keyup', up, true);
      window.removeEventListener('blur', letGo);
    };
  }, [isOn]);

  const attach = useCallback((view: StageView) => {
    stage.current = view;
    return () => {
      stage.current = null;
    };
  }, []);
  const onShown = useCallback((listener: (shown: LiveShown) => void) => {
    listeners.current.add(listener);
    return () => {
      listeners.current.delete(listener);
    };
  }, []);
  const judge = useCallback(() => {
    void worker.current?.judge(drillLimitsOf(profile)).then(setJudged);
  }, [profile]);
  const isCurrent = opened?.key === key;
  return {
    info: isCurrent ? opened.info : null,
    problem: isCurrent ? opened.problem : null,
    judged,
    judge,
    attach,
    onShown,
  };
}

const stumbled = (error: Error): Problem => ({
  code: 'unexpected',
  message: error.message,
  place: 'steering',
  remedy: 'Switch steering off and on again; if it returns, the character triggers a fault in Yarvo.',
});
