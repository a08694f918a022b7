'use client';

import { useState } from 'react';
import type { MotionView } from '@/contract/motions';
import type { MotionEdit } from '@/core/motion/edits/motion-edit';
import type { Player } from './player';

/** Steps that ask something. */
export type FormKind = 'loop' | 'append' | 'hold' | 'speed' | 'rate';

interface EditFormProps {
  readonly kind: FormKind;
  readonly player: Player;
  readonly framesPerSecond: number;
  readonly others: readonly MotionView[];
  readonly onAdd: (edit: MotionEdit) => void;
}

/** A sixth of a second is short enough to keep the movement and long enough not to be seen. */
const USUAL_BLEND_SECONDS = 1 / 6;

/** What a step of editing asks before it is added. */
export function EditForm({ kind, player, framesPerSecond, others, onAdd }: EditFormProps) {
  const [values, setValues] = useState<Readonly<Record<string, string>>>({
    blend: String(Math.round(framesPerSecond * USUAL_BLEND_SECONDS)),
    frames: String(Math.round(framesPerSecond)),
    factor: '1.5',
    rate: String(Number(framesPerSecond.toFixed(3))),
    motionId: others[0]?.id ?? '',
  });
  const [isMatching, setMatching] = useState(true);
  const field = (id: string, label: string, unit: string, min: number, max: number, step: number | 'any' = 1) => (
    <label className="flex items-center gap-1.5">
      {label}
      <input
        type="number"
        required
        className="input w-20 input-xs"
        min={min}
        max={max}
        step={step}
        value={values[id]}
        onChange={(event) => setValues({ ...values, [id]: event.target.value })}
      />
      {unit}
    </label>
  );
  const submit = () => {
    const { range, frame } = player.current;
    const number = (id: string) => Number(values[id]);
    const edits: Readonly<Record<FormKind, MotionEdit>> = {
      loop: { kind: 'loop', from: range.from, to: range.to, blend: number('blend') },
      append: { kind: 'append', motionId: values.motionId, blend: number('blend'), isMatching },
      hold: { kind: 'hold', at: frame, frames: number('frames') },
      speed: { kind: 'speed', factor: number('factor') },
      rate: { kind: 'rate', framesPerSecond: number('rate') },
    };
    onAdd(edits[kind]);
  };
  return (
    <form
      aria-label="Step"
      className="mt-1.5 flex flex-wrap items-center gap-2 rounded-box bg-base-200 px-2 py-1.5"
      onSubmit={(event) => {
        event.preventDefault();
        submit();
      }}
    >
      {kind === 'loop' && (
        <>
          <p className="w-full">The frames between the marks, the end led over into the start.</p>
          {field('blend', 'Blend', 'frames', 0, 10_000)}
        </>
      )}
      {kind === 'append' &&
        (others.length === 0 ? (
          <p>There is no other motion on the shelf.</p>
        ) : (
          <>
            <select
              aria-label="Motion to append"
              className="select w-full select-xs"
              value={values.motionId}
              onChange={(event) => setValues({ ...values, motionId: event.target.value })}
            >
              {others.map(({ id, name }) => (
                <option key={id} value={id}>
                  {name}
                </option>
              ))}
            </select>
            {field('blend', 'Blend', 'frames', 0, 10_000)}
            <label className="flex items-center gap-1.5">
              <input
                type="checkbox"
                className="checkbox checkbox-xs"
                checked={isMatching}
                onChange={(event) => setMatching(event.target.checked)}
              />
              where the feet match
            </label>
          </>
        ))}
      {kind === 'hold' && field('frames', 'Stand still at this frame for', 'frames', 1, 100_000)}
      {kind === 'speed' && field('factor', 'Play', '× as fast', 0.05, 20, 'any')}
      {kind === 'rate' && field('rate', 'Sample at', 'frames a second', 1, 1000, 'any')}
      <button className="btn ml-auto btn-primary btn-xs" disabled={kind === 'append' && others.length === 0}>
        Add
      </button>
    </form>
  );
}
