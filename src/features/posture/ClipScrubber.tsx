'use client';

import { useEffect, useRef, useState } from 'react';
import type { Clip } from '@/core/rig/rig';
import type { RigPose } from '@/core/rig/pose';
import type { MeshMeasures } from './use-posture-report';

interface ClipScrubberProps {
  readonly clips: readonly Clip[];
  readonly moment: MeshMeasures['moment'];
  readonly onMoment: (pose: RigPose, label: string) => void;
}

/** Frames of a clip under one's hand; the stage shows the one that is chosen. */
export function ClipScrubber({ clips, moment, onMoment }: ClipScrubberProps) {
  const [clip, setClip] = useState(0);
  const [frame, setFrame] = useState(0);
  const wanted = useRef('');
  const { name, durationSeconds, framesPerSecond } = clips[clip];
  const rate = framesPerSecond > 0 ? framesPerSecond : 30;
  const last = Math.max(0, Math.round(durationSeconds * rate));
  const show = async (at: number, of: number) => {
    const label = `${clips[of].name}, frame ${at}`;
    wanted.current = label;
    const pose = await moment(of, at / rate);
    // Only the frame that is wanted by now is shown, in whatever order they come.
    if (pose && wanted.current === label) onMoment(pose, label);
  };
  const first = useRef(show);
  useEffect(() => void first.current(0, 0), []);
  return (
    <div className="flex items-center gap-2">
      <select
        aria-label="Clip"
        className="select w-36 select-xs"
        value={clip}
        onChange={(event) => {
          const next = Number(event.target.value);
          setClip(next);
          setFrame(0);
          void show(0, next);
        }}
      >
        {clips.map((each, at) => (
          <option key={at} value={at}>
            {each.name}
          </option>
        ))}
      </select>
      <input
        type="range"
        aria-label={`Frame of ${name}`}
        className="range flex-1 range-xs"
        min={0}
        max={last}
        value={frame}
        onChange={(event) => {
          const next = Number(event.target.value);
          setFrame(next);
          void show(next, clip);
        }}
      />
      <span className="w-20 text-right tabular-nums">
        {frame} of {last}
      </span>
    </div>
  );
}
