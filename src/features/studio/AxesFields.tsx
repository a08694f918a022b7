'use client';

import { AXIS_NAMES, type AxisName } from '@/core/frame/normalise';
import type { BoneAxes } from '@/core/profile/profile';

const USUAL: BoneAxes = { along: '+X', hinge: '+Z', isMirrored: true };

/** Which axis of a bone points along it, and which its hinge turns about; or any. */
export function AxesFields({
  axes,
  onChange,
}: {
  readonly axes: BoneAxes | null;
  readonly onChange: (axes: BoneAxes | null) => void;
}) {
  const choice = (label: string, value: AxisName, change: (axis: AxisName) => void) => (
    <label className="flex items-center gap-2">
      {label}
      <select
        className="select w-20 select-sm"
        value={value}
        onChange={(event) => change(event.target.value as AxisName)}
      >
        {AXIS_NAMES.map((name) => (
          <option key={name}>{name}</option>
        ))}
      </select>
    </label>
  );
  return (
    <div className="mt-2 flex flex-wrap items-center gap-4 text-[13px]">
      <label className="flex items-center gap-2">
        <input
          type="checkbox"
          className="toggle toggle-sm"
          checked={axes !== null}
          onChange={(event) => onChange(event.target.checked ? USUAL : null)}
        />
        Bone axes are stated
      </label>
      {axes && (
        <>
          {choice('Along the bone', axes.along, (along) => onChange({ ...axes, along }))}
          {choice('Through the hinge', axes.hinge, (hinge) => onChange({ ...axes, hinge }))}
          <label className="flex items-center gap-2">
            <input
              type="checkbox"
              className="checkbox checkbox-xs"
              checked={axes.isMirrored}
              onChange={(event) => onChange({ ...axes, isMirrored: event.target.checked })}
            />
            Right mirrors left
          </label>
        </>
      )}
    </div>
  );
}
