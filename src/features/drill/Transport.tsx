'use client';

import { ChevronLeft, ChevronRight, Pause, Play, Repeat } from 'lucide-react';
import { useEffect, useRef } from 'react';
import type { DrillInfo } from '@/workers/browser/drill.worker';
import { SPEEDS, writeDrill } from './use-drill-address';
import type { PlayerHandle } from './use-player';

const SPEED_TEXT: Readonly<Record<number, string>> = { 0.125: '⅛', 0.25: '¼', 0.5: '½', 1: '1', 2: '2' };

/** Play, step, scrub; which frame and time it is. What changes with each frame is written past React. */
export function Transport({ handle, info }: { handle: PlayerHandle; info: DrillInfo }) {
  const { player, state, onFrame } = handle;
  const slider = useRef<HTMLInputElement>(null);
  const frameText = useRef<HTMLSpanElement>(null);
  const timeText = useRef<HTMLSpanElement>(null);
  const { framesPerSecond, frameCount } = info;
  useEffect(
    () =>
      onFrame(({ frame }) => {
        if (slider.current) slider.current.value = String(frame);
        if (frameText.current) frameText.current.textContent = String(frame);
        if (timeText.current) timeText.current.textContent = `${(frame / framesPerSecond).toFixed(2)} s`;
      }),
    [onFrame, framesPerSecond],
  );
  if (!player || !state) return null;
  const { range, isPlaying, isLooping, speed } = state;
  const isWhole = range.from === 0 && range.to === frameCount - 1;
  const step = (by: number) => {
    player.step(by);
    writeDrill({ frame: player.current.frame });
  };
  const mark = (change: Partial<typeof range>) => {
    const next = { ...range, ...change };
    player.setRange(next);
    writeDrill({ range: next.from === 0 && next.to === frameCount - 1 ? null : next });
  };
  return (
    <div
      role="group"
      aria-label="Playback"
      className="flex h-11 shrink-0 items-center gap-3 border-t border-base-300 bg-base-100 px-3 text-[13px]"
    >
      <div className="flex items-center gap-0.5">
        <button
          className="btn btn-square btn-ghost btn-sm"
          aria-label="Back a frame (←)"
          title="Back a frame (←)"
          onClick={() => step(-1)}
        >
          <ChevronLeft aria-hidden className="size-4" />
        </button>
        <button
          className="btn btn-square btn-primary btn-sm"
          aria-label={isPlaying ? 'Pause (Space)' : 'Play (Space)'}
          title={isPlaying ? 'Pause (Space)' : 'Play (Space)'}
          onClick={() => {
            player.toggle();
            if (!player.current.isPlaying) writeDrill({ frame: player.current.frame });
          }}
        >
          {isPlaying ? <Pause aria-hidden className="size-4" /> : <Play aria-hidden className="size-4" />}
        </button>
        <button
          className="btn btn-square btn-ghost btn-sm"
          aria-label="On a frame (→)"
          title="On a frame (→)"
          onClick={() => step(1)}
        >
          <ChevronRight aria-hidden className="size-4" />
        </button>
      </div>
      <p className="w-40 shrink-0 tabular-nums">
        frame{' '}
        <span ref={frameText} data-frame>
          {state.frame}
        </span>{' '}
        <span className="quiet">/ {frameCount - 1}</span>
        <br />
        <span ref={timeText} className="quiet">
          {(state.frame / framesPerSecond).toFixed(2)} s
        </span>{' '}
        <span className="quiet">· {Number(framesPerSecond.toFixed(2))}/s</span>
      </p>
      <input
        ref={slider}
        type="range"
        aria-label="Frame"
        className="range min-w-24 flex-1 range-primary range-xs"
        min={0}
        max={frameCount - 1}
        step={1}
        defaultValue={state.frame}
        onChange={(event) => {
          player.pause();
          player.seek(Number(event.target.value));
          writeDrill({ frame: player.current.frame });
        }}
      />
      <div className="flex items-center gap-1">
        <button
          className="btn btn-ghost btn-xs"
          title="Start here ([)"
          onClick={() => mark({ from: player.current.frame })}
        >
          From {range.from}
        </button>
        <button
          className="btn btn-ghost btn-xs"
          title="End here (])"
          onClick={() => mark({ to: player.current.frame })}
        >
          to {range.to}
        </button>
        {!isWhole && (
          <button className="btn btn-ghost btn-xs" onClick={() => mark({ from: 0, to: frameCount - 1 })}>
            Whole motion
          </button>
        )}
      </div>
      <button
        className={`btn btn-square btn-sm ${isLooping ? 'btn-soft btn-primary' : 'btn-ghost'}`}
        aria-label="Loop (L)"
        title="Loop (L)"
        aria-pressed={isLooping}
        onClick={() => {
          player.setLooping(!isLooping);
          writeDrill({ isLooping: !isLooping });
        }}
      >
        <Repeat aria-hidden className="size-4" />
      </button>
      <div role="group" aria-label="Speed" className="flex">
        {SPEEDS.map((each) => (
          <button
            key={each}
            aria-pressed={each === speed}
            aria-label={`Speed ${each}`}
            className={`rounded-field px-1.5 py-0.5 ${each === speed ? 'font-semibold text-primary' : 'quiet hover:text-base-content'}`}
            onClick={() => {
              player.setSpeed(each);
              writeDrill({ speed: each });
            }}
          >
            {SPEED_TEXT[each]}
          </button>
        ))}
      </div>
    </div>
  );
}
