'use client';

import { rotate } from '@/core/math/quat';
import type { Vec3 } from '@/core/math/vec3';
import { NumberField } from '@/ui/NumberField';
import type { BearingPoint } from '@/workers/browser/drill.worker';
import { useCharacter } from '../character/character-context';

const AXES = ['left', 'up', 'ahead'] as const;

/** Where heel, ball and tip of each foot bear, and palms, in cm from their joint in the reference pose; moved by number or on the stage. */
export function BearingPoints({ points }: { readonly points: readonly BearingPoint[] }) {
  const { fit, act } = useCharacter();
  const { contactPoints } = fit.state.carrying;
  const set = (next: typeof contactPoints) => act({ kind: 'set-carrying', change: { contactPoints: next } });
  if (points.length === 0) return null;
  return (
    <details className="mt-1.5">
      <summary className="cursor-pointer font-semibold">
        Points that bear{' '}
        <span className="quiet font-normal">
          {Object.keys(contactPoints).length === 0 ? 'found on the soles' : 'some moved by hand'}
        </span>
      </summary>
      <p className="quiet">Drag one on the stage while nothing plays, or set it here.</p>
      <table className="mt-1 w-full">
        <thead>
          <tr className="quiet text-left text-xs">
            <th className="font-normal">cm from the joint</th>
            {AXES.map((axis) => (
              <th key={axis} className="font-normal">
                {axis}
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {points.map(({ name, from, turn }) => (
            <tr key={name}>
              <td className={contactPoints[name] ? 'font-semibold' : ''}>{name}</td>
              {AXES.map((axis, k) => (
                <td key={axis}>
                  <NumberField
                    label={`${name}, ${axis}, cm`}
                    className="w-14"
                    min={-200}
                    max={200}
                    step={0.1}
                    value={Number((from[k] * 100).toFixed(1))}
                    onChange={(centimetres) => {
                      const moved = from.map((value, each) =>
                        each === k ? centimetres / 100 : value,
                      ) as unknown as Vec3;
                      set({ ...contactPoints, [name]: rotate(turn, moved) });
                    }}
                  />
                </td>
              ))}
            </tr>
          ))}
        </tbody>
      </table>
      {Object.keys(contactPoints).length > 0 && (
        <button className="btn btn-ghost btn-xs" onClick={() => set({})}>
          As they were found
        </button>
      )}
    </details>
  );
}
