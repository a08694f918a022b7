'use client';

import type { ReactNode } from 'react';
import { Choice } from '@/ui/Choice';
import { capitalised } from '@/ui/text';
import { MESH_MODES, useSelection, VIEWS } from './use-selection';

interface StageSwitchesProps {
  /** Whether one view is chosen, or the screen shows several. */
  readonly hasViews: boolean;
  readonly more?: ReactNode;
}

/** What is shown on the stage: in a row where there is room for it, else behind one button. */
export function StageSwitches(props: StageSwitchesProps) {
  return (
    <>
      {props.hasViews && <ViewSwitch />}
      <div className="hidden items-center gap-4 @min-[680px]:flex">
        <Switches more={props.more} />
      </div>
      <details className="relative @min-[680px]:hidden">
        <summary className="btn btn-ghost btn-xs">Show …</summary>
        <div className="absolute bottom-8 left-0 z-20 flex w-76 flex-col items-start gap-2 rounded-box border border-base-300 bg-base-100 p-3 shadow-md">
          <Switches more={props.more} />
        </div>
      </details>
    </>
  );
}

/** What is switched most has room on every stage. */
function ViewSwitch() {
  const { view, select } = useSelection();
  return (
    <fieldset className="flex">
      <legend className="sr-only">View</legend>
      {VIEWS.map((name) => (
        <Choice key={name} isOn={view === name} onClick={() => select({ view: name })}>
          {capitalised(name)}
        </Choice>
      ))}
    </fieldset>
  );
}

function Switches({ more }: Pick<StageSwitchesProps, 'more'>) {
  const { mesh, labels, joints, only, select } = useSelection();
  return (
    <>
      <fieldset className="flex gap-1">
        <legend className="sr-only">Mesh</legend>
        <span className="quiet py-0.5">Mesh</span>
        {MESH_MODES.map((mode) => (
          <Choice key={mode} isOn={mesh === mode} onClick={() => select({ mesh: mode })}>
            {capitalised(mode)}
          </Choice>
        ))}
      </fieldset>
      {more}
      <div role="group" aria-label="Joints" className="flex items-center gap-1">
        <Choice isOn={labels} onClick={() => select({ labels: !labels })}>
          Names
        </Choice>
        <Choice isOn={only} onClick={() => select({ only: !only })}>
          Only this line
        </Choice>
        <label className="quiet flex items-center gap-1.5 pl-1">
          Joints
          <input
            type="range"
            aria-label="Size of the joints"
            className="range w-14 range-xs"
            min={40}
            max={250}
            step={10}
            value={joints}
            onChange={(event) => select({ joints: Number(event.target.value) })}
          />
        </label>
      </div>
    </>
  );
}
