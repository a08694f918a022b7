'use client';

import { useMemo } from 'react';
import type { RepairOutlook } from '@/core/intake/plan-repair';
import type { LineFit } from '@/core/match/context/match-types';
import type { RigPose } from '@/core/rig/pose';
import type { Rig } from '@/core/rig/rig';
import { Stage } from '@/ui/stage/Stage';
import type { PaneView } from '@/ui/stage/projection';
import { linesOf, sidesOf } from './match-view';
import { useCharacter } from './character-context';
import { MESH_MODES, useSelection, VIEWS } from './use-selection';
import { capitalised } from '@/ui/text';

interface CharacterStageProps {
  readonly selected: number | null;
  readonly hovered: number | null;
  readonly highlighted?: ReadonlySet<number>;
  readonly showBefore?: boolean;
  /** Several views at once in place of the one from the address. */
  readonly views?: readonly PaneView[];
  /** Joints to show close up. */
  readonly focus?: readonly number[] | null;
  /** A change of the tree to show before it is made. */
  readonly outlook?: RepairOutlook | null;
  /** A pose to show in place of the fit's own, while it is being changed. */
  readonly pose?: RigPose;
  readonly onPick: (bone: number | null) => void;
  readonly onHover: (bone: number | null) => void;
}

/** The stage with the current fit on it, and its switches. */
export function CharacterStage({ views, focus, pose: shown, ...props }: CharacterStageProps) {
  const { character, definition, fit } = useCharacter();
  const { view, mesh, labels, joints, only, select } = useSelection();
  const lines = useMemo(() => linesOf(character, fit, definition), [character, fit, definition]);
  const sides = useMemo(() => sidesOf(fit, lines, definition), [fit, lines, definition]);
  const pose: RigPose = shown ?? fit.state.posture;
  const isolated = useMemo(
    () => (only && props.selected !== null ? isolatedBones(character.rig, lines, props.selected) : null),
    [only, props.selected, character, lines],
  );
  const close = focus ?? (isolated ? [...isolated] : null);
  const single = useMemo(() => [view] as const, [view]);
  return (
    <div className="relative min-h-0 min-w-0">
      <Stage
        {...props}
        rig={character.rig}
        normalisation={character.normalisation}
        pose={pose}
        sides={sides}
        modelUrl={`/api/characters/${character.id}/model/${character.modelHash}`}
        views={views ?? single}
        mesh={mesh}
        jointScale={joints / 100}
        hasLabels={labels}
        isolated={isolated}
        focus={close}
      />
      <div
        role="group"
        aria-label="Joints"
        className={`absolute bottom-2 flex items-center gap-3 rounded-field bg-base-100/75 px-1.5 text-[13px] ${views ? 'left-3' : 'left-16'}`}
      >
        <Choice isOn={labels} onClick={() => select({ labels: !labels })}>
          Names
        </Choice>
        <Choice isOn={only} onClick={() => select({ only: !only })}>
          Only this line
        </Choice>
        <label className="quiet flex items-center gap-1.5">
          Joints{' '}
          <input
            type="range"
            aria-label="Size of the joints"
            className="range w-20 range-xs"
            min={40}
            max={250}
            step={10}
            value={joints}
            onChange={(event) => select({ joints: Number(event.target.value) })}
          />
        </label>
      </div>
      <div
        className={`pointer-events-none absolute flex gap-3 text-[13px] ${views ? 'bottom-10 left-3' : 'top-1.5 right-3'}`}
      >
        <fieldset className="pointer-events-auto flex gap-1 rounded-field bg-base-100/75 px-1">
          <legend className="sr-only">Mesh</legend>
          <span className="quiet py-0.5 pl-1">Mesh</span>
          {MESH_MODES.map((mode) => (
            <Choice key={mode} isOn={mesh === mode} onClick={() => select({ mesh: mode })}>
              {capitalised(mode)}
            </Choice>
          ))}
        </fieldset>
        {!views && (
          <fieldset className="pointer-events-auto flex gap-1 rounded-field bg-base-100/75 px-1">
            <legend className="sr-only">View</legend>
            {VIEWS.map((name) => (
              <Choice key={name} isOn={view === name} onClick={() => select({ view: name })}>
                {capitalised(name)}
              </Choice>
            ))}
          </fieldset>
        )}
      </div>
    </div>
  );
}

/** Bones of the line that a bone stands on, and the spares between them and just below. */
function isolatedBones(rig: Rig, lines: readonly LineFit[], bone: number): ReadonlySet<number> {
  const line = lines.find(({ bones }) => bones.includes(bone));
  const own = new Set(line?.bones ?? [bone]);
  const mapped = new Set(lines.flatMap(({ bones }) => bones));
  // Parents stand before their children in a rig, so one pass carries spares along.
  for (const { index, parent } of rig.bones) if (own.has(parent) && !mapped.has(index)) own.add(index);
  return own;
}

function Choice({ isOn, onClick, children }: { isOn: boolean; onClick: () => void; children: string }) {
  return (
    <button
      type="button"
      aria-pressed={isOn}
      className={`rounded-field px-1.5 py-0.5 ${isOn ? 'font-semibold text-primary' : 'quiet hover:text-base-content'}`}
      onClick={onClick}
    >
      {children}
    </button>
  );
}
